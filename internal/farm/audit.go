package farm

import (
	"time"

	"fjell/internal/store"
)

// Note writes down, with a change that went well, what a farm's owners may want to know of afterwards: who came and went,
// which devices may send, what was taken away for good. It also goes to the log, once the
// change is kept.
func (tx *Writing) Note(what, about string, err error) error {
	if err != nil {
		return err
	}
	by := tx.Actor.UserID
	tx.noted = append(tx.noted, what)
	if r := []rune(about); len(r) > 280 {
		about = string(r[:280])
	}
	return tx.Create(&store.AuditLine{FarmID: tx.Farm.ID, At: time.Now().UTC(), UserID: by, What: what, About: about}).Error
}
