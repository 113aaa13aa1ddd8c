package farm

import (
	"context"
	"time"

	"fjell/internal/store"
)

// note writes down, with a change that went well, what a farm's owners may want to know of afterwards: who came and went,
// which devices may send, what was taken away for good. It also goes to the log, once the
// change is kept.
func (tx *writing) note(what, about string, err error) error {
	if err != nil {
		return err
	}
	by := tx.actor.UserID
	tx.noted = append(tx.noted, what)
	if r := []rune(about); len(r) > 280 {
		about = string(r[:280])
	}
	return tx.Create(&store.AuditLine{FarmID: tx.farm.ID, At: time.Now().UTC(), UserID: by, What: what, About: about}).Error
}

// AuditView is one line of a farm's audit trail.
type AuditView struct {
	ID    int64     `json:"id"`
	At    time.Time `json:"at"`
	By    string    `json:"by" doc:"empty: the farm's own doing"`
	What  string    `json:"what"`
	About string    `json:"about"`
}

// auditPage is how many lines are read at a time.
const auditPage = 100

// Audit is the farm's audit trail, newest first, from before a line on; 0 for the newest.
func (s *Service) Audit(ctx context.Context, a Actor, before int64) ([]AuditView, error) {
	out := []AuditView{}
	db := s.DB.WithContext(ctx).Table("audit_lines l").Joins("LEFT JOIN users u ON u.id = l.user_id").Where("l.farm_id = ?", a.FarmID)
	if before > 0 {
		db = db.Where("l.id < ?", before)
	}
	err := db.Select("l.id, l.at, COALESCE(u.name, '') AS `by`, l.what, l.about").Order("l.id DESC").Limit(auditPage).Scan(&out).Error
	return out, err
}
