package farm

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"image"
	_ "image/jpeg" // photos are one or the other
	_ "image/png"
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
	_, kind, err := image.DecodeConfig(bytes.NewReader(in.Content))
	if err != nil {
		return quantity.Refuse("content", nil, "this is neither a PNG nor a JPEG")
	}
	sum := sha256.Sum256(in.Content)
	return s.write(ctx, a, request{in.ID, "photo", []any{hex.EncodeToString(sum[:]), in.StopID, in.PaddockID, in.TakenAt.UTC()}}, func(tx *writing) error {
		if _, err := find[store.Paddock](tx.DB, a.FarmID, "paddock", in.PaddockID); err != nil {
			return err
		}
		return tx.Create(&store.Photo{FarmID: a.FarmID, ID: in.ID, StopID: in.StopID, PaddockID: in.PaddockID, ContentType: "image/" + kind, Content: in.Content,
			TakenAt: in.TakenAt.UTC(), TakenBy: a.UserID}).Error
	})
}

// Photo is a picture of a walk.
func (s *Service) Photo(ctx context.Context, a Actor, id string) (contentType string, content []byte, err error) {
	row, err := find[store.Photo](s.DB.WithContext(ctx), a.FarmID, "", id)
	return row.ContentType, row.Content, err
}
