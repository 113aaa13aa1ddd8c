package farm

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"time"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// MostPhotoBytes is the largest photo kept.
const MostPhotoBytes = 6 << 20

// NewPhoto is a picture taken on a walk.
type NewPhoto struct {
	ID, StopID, PaddockID string
	TakenAt               time.Time
	Content               []byte
}

// KeepPhoto keeps a PNG or JPEG of a stop, whose measurement may come after it.
func (s *Service) KeepPhoto(ctx context.Context, a Actor, in NewPhoto) error {
	for field, id := range map[string]string{"stop": in.StopID, "paddock": in.PaddockID} {
		if err := clientID(field, id); err != nil {
			return err
		}
	}
	if len(in.Content) > MostPhotoBytes {
		return quantity.Refuse("content", len(in.Content), "a photo has at most %d MB", MostPhotoBytes>>20)
	}
	sum := sha256.Sum256(in.Content)
	kind, content, _, err := s.studio.anew(ctx, in.Content, photoSide)
	if err != nil {
		return err
	}
	return s.write(ctx, a, request{in.ID, "photo", []any{hex.EncodeToString(sum[:]), in.StopID, in.PaddockID, in.TakenAt.UTC()}}, func(tx *writing) error {
		if in.TakenAt.After(tx.now.Add(time.Minute)) || in.TakenAt.Before(tx.now.AddDate(-5, 0, 0)) {
			return quantity.Refuse("taken_at", in.TakenAt.Format(time.RFC3339), "lies in the future or more than five years back")
		}
		if _, err := find[store.Paddock](tx.DB, a.FarmID, "paddock", in.PaddockID); err != nil {
			return err
		}
		if err := tx.room(len(content)); err != nil {
			return err
		}
		return tx.Create(&store.Photo{FarmID: a.FarmID, ID: in.ID, StopID: in.StopID, PaddockID: in.PaddockID, ContentType: kind, Content: content,
			TakenAt: in.TakenAt.UTC(), TakenBy: a.UserID}).Error
	})
}

// usualFarmBytes is how much room a farm has for photos and pictures unless its house says otherwise.
const usualFarmBytes = 2 << 30

// room refuses a picture for which a farm has none left.
func (tx *writing) room(bytes int) error {
	most := tx.service.FarmBytes
	if most == 0 {
		most = usualFarmBytes
	}
	used := int64(0)
	for _, row := range []any{&store.Photo{}, &store.GroundPicture{}} {
		var n int64
		if err := tx.Model(row).Where("farm_id = ?", tx.farm.ID).Select("COALESCE(SUM(LENGTH(content)), 0)").Scan(&n).Error; err != nil {
			return err
		}
		used += n
	}
	if used+int64(bytes) > most {
		return quantity.Refuse("content", nil, "the farm's photos and pictures fill the %d MB it has: take some away first", most>>20)
	}
	return nil
}

// RemovePhoto takes a photo away for good: by whoever took it, or by a manager.
func (s *Service) RemovePhoto(ctx context.Context, a Actor, id string) error {
	return s.write(ctx, a, request{"", "remove photo", id}, func(tx *writing) error {
		row, err := find[store.Photo](tx.DB.Omit("content"), a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.TakenBy != a.UserID && !a.Role.Includes(Manager) {
			return ErrForbidden
		}
		return tx.note("photo taken away", "", tx.Delete(&store.Photo{}, "farm_id = ? AND id = ?", a.FarmID, id).Error)
	})
}

// Photo is a picture of a walk.
func (s *Service) Photo(ctx context.Context, a Actor, id string) (contentType string, content []byte, err error) {
	row, err := find[store.Photo](s.DB.WithContext(ctx), a.FarmID, "", id)
	return row.ContentType, row.Content, err
}
