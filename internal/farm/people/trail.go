package people

import (
	"context"
	"time"

	"fjell/internal/farm"
)

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
func (s *Service) Audit(ctx context.Context, a farm.Actor, before int64) ([]AuditView, error) {
	out := []AuditView{}
	db := s.DB.WithContext(ctx).Table("audit_lines l").Joins("LEFT JOIN users u ON u.id = l.user_id").Where("l.farm_id = ?", a.FarmID)
	if before > 0 {
		db = db.Where("l.id < ?", before)
	}
	err := db.Select("l.id, l.at, COALESCE(u.name, '') AS `by`, l.what, l.about").Order("l.id DESC").Limit(auditPage).Scan(&out).Error
	return out, err
}
