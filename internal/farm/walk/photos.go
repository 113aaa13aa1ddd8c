package walk

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// MostPhotoBytes is the largest photo kept.
const MostPhotoBytes = 6 << 20

// NewPhoto is a picture taken on a walk.
type NewPhoto struct {
	ID, StopID, PaddockID string
	Stage, Point          string // of a stay, and where it is taken from again and again; empty: none
	TakenAt               time.Time
	Content               []byte
}

// KeepPhoto keeps a PNG or JPEG of a stop, whose measurement may come after it.
func (s *Service) KeepPhoto(ctx context.Context, a farm.Actor, in NewPhoto) error {
	for field, id := range map[string]string{"stop": in.StopID, "paddock": in.PaddockID} {
		if err := farm.CheckID(field, id); err != nil {
			return err
		}
	}
	if in.Point = strings.TrimSpace(in.Point); len([]rune(in.Point)) > 80 {
		return quantity.Refuse("point", nil, "a point has a name of at most 80 letters")
	}
	if len(in.Content) > MostPhotoBytes {
		return quantity.Refuse("content", len(in.Content), "a photo has at most %d MB", MostPhotoBytes>>20)
	}
	sum := sha256.Sum256(in.Content)
	kind, content, _, err := s.DrawAnew(ctx, in.Content, farm.PhotoSide)
	if err != nil {
		return err
	}
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "photo", Body: []any{hex.EncodeToString(sum[:]), in.StopID, in.PaddockID, in.TakenAt.UTC(), in.Stage, in.Point}}, func(tx *facts.Writing) error {
		if in.TakenAt.After(tx.Now.Add(time.Minute)) || in.TakenAt.Before(tx.Now.AddDate(-5, 0, 0)) {
			return quantity.Refuse("taken_at", in.TakenAt.Format(time.RFC3339), "lies in the future or more than five years back")
		}
		if _, err := farm.Find[store.Paddock](tx.DB, a.FarmID, "paddock", in.PaddockID); err != nil {
			return err
		}
		if err := tx.Room(len(content)); err != nil {
			return err
		}
		return tx.Create(&store.Photo{FarmID: a.FarmID, ID: in.ID, StopID: in.StopID, PaddockID: in.PaddockID, ContentType: kind, Content: content,
			TakenAt: in.TakenAt.UTC(), TakenBy: a.UserID, Stage: in.Stage, Point: in.Point}).Error
	})
}

// RemovePhoto takes a photo away for good: by whoever took it, or by a manager.
func (s *Service) RemovePhoto(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "remove photo", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Photo](tx.DB.Omit("content"), a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.TakenBy != a.UserID && !a.Role.Includes(farm.Manager) {
			return farm.ErrForbidden
		}
		return tx.Note("photo taken away", "", tx.Delete(&store.Photo{}, "farm_id = ? AND id = ?", a.FarmID, id).Error)
	})
}

// Photo is a picture of a walk.
func (s *Service) Photo(ctx context.Context, a farm.Actor, id string) (contentType string, content []byte, err error) {
	row, err := farm.Find[store.Photo](s.DB.WithContext(ctx), a.FarmID, "", id)
	return row.ContentType, row.Content, err
}
