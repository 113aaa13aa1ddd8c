package people

import (
	"context"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/store"
)

// Limits of a farm's people.
const (
	mostMembers = 200 // members and invitations of a farm
	mostAsked   = 50  // invitations waiting for one person
)

// SetMember changes a member's role, takes a person off the farm when role is empty, or asks somebody who is not on it
// to join. A farm keeps at least one owner.
func (s *Service) SetMember(ctx context.Context, a farm.Actor, email string, role farm.Role) ([]farm.MemberView, error) {
	if role != "" && !role.Known() {
		return nil, quantity.Refuse("role", string(role), "must be owner, manager, hand or viewer")
	}
	email = strings.ToLower(strings.TrimSpace(email))
	err := s.Write(ctx, a, farm.Request{Kind: "member", Body: []any{email, role}}, func(tx *farm.Writing) error {
		var user store.User
		if err := tx.Limit(1).Find(&user, "email = ?", email).Error; err != nil {
			return err
		}
		if user.ID == "" {
			return quantity.Refuse("email", email, "has no account here yet: ask them to make one first")
		}
		_, err := farm.MemberRole(tx.DB, a.FarmID, user.ID)
		switch {
		case errors.Is(err, farm.ErrStranger) && role != "":
			return invite(tx, user, role)
		case errors.Is(err, farm.ErrStranger):
			return tx.Note("invitation taken back", user.Name, tx.Delete(&store.Invitation{}, "farm_id = ? AND user_id = ?", a.FarmID, user.ID).Error)
		case err != nil:
			return err
		case role == "":
			err = tx.Leave(user.ID, "taken off the farm")
		default:
			err = tx.Note("role", user.Name+": "+string(role), tx.Save(&store.Member{FarmID: a.FarmID, UserID: user.ID, Role: string(role)}).Error)
		}
		if err != nil {
			return err
		}
		return keepsAnOwner(tx)
	})
	return farm.After(err, func() ([]farm.MemberView, error) { return s.Members(ctx, a) })
}

func invite(tx *farm.Writing, user store.User, role farm.Role) error {
	userID := user.ID
	for _, limit := range []struct {
		most int64
		say  string
		of   *gorm.DB
	}{
		{mostMembers, "a farm has at most %d people and invitations", tx.Model(&store.Invitation{}).Where("farm_id = ?", tx.Farm.ID)},
		{mostAsked, "this person has %d invitations waiting: they must answer some first", tx.Model(&store.Invitation{}).Where("user_id = ?", userID)},
	} {
		var n int64
		if err := limit.of.Count(&n).Error; err != nil {
			return err
		}
		if n >= limit.most {
			return quantity.Refuse("email", nil, limit.say, limit.most)
		}
	}
	row := store.Invitation{FarmID: tx.Farm.ID, UserID: userID, Role: string(role), InvitedBy: tx.Actor.UserID, InvitedAt: time.Now().UTC()}
	return tx.Note("asked to join", user.Name+", as "+string(role), tx.Save(&row).Error)
}

func keepsAnOwner(tx *farm.Writing) error {
	var owners int64
	if err := tx.Model(&store.Member{}).Where("farm_id = ? AND role = ?", tx.Farm.ID, farm.Owner).Count(&owners).Error; err != nil {
		return err
	}
	if owners == 0 {
		return quantity.Refuse("role", nil, "a farm keeps at least one owner")
	}
	return nil
}

// Leave takes the actor off the farm.
func (s *Service) Leave(ctx context.Context, a farm.Actor) error {
	return s.Write(ctx, a, farm.Request{Kind: "leave", Body: a.UserID}, func(tx *farm.Writing) error {
		if err := tx.Leave(a.UserID, "left"); err != nil {
			return err
		}
		return keepsAnOwner(tx)
	})
}

// InvitationView asks a person to join a farm.
type InvitationView struct {
	FarmID   string    `json:"farm_id"`
	FarmName string    `json:"farm_name"`
	Role     farm.Role `json:"role" enum:"owner,manager,hand,viewer"`
	By       string    `json:"invited_by"`
	At       time.Time `json:"invited_at"`
}

// Invitations are the farms a person is asked to join.
func (s *Service) Invitations(ctx context.Context, userID string) ([]InvitationView, error) {
	out := []InvitationView{}
	err := s.DB.WithContext(ctx).Table("invitations i").Joins("JOIN farms f ON f.id = i.farm_id").Joins("JOIN users u ON u.id = i.invited_by").Where("i.user_id = ?", userID).
		Select("i.farm_id, f.name AS farm_name, i.role, u.name AS `by`, i.invited_at AS `at`").Order("i.invited_at").Scan(&out).Error
	return out, err
}

// AnswerInvitation joins a farm, or declines to.
func (s *Service) AnswerInvitation(ctx context.Context, userID, farmID string, join bool) error {
	return s.Write(ctx, farm.Actor{FarmID: farmID}, farm.Request{Kind: "answer invitation", Body: []any{userID, join}}, func(tx *farm.Writing) error {
		var row store.Invitation
		if err := tx.Limit(1).Find(&row, "farm_id = ? AND user_id = ?", farmID, userID).Error; err != nil {
			return err
		}
		if row.UserID == "" {
			if _, err := farm.MemberRole(tx.DB, farmID, userID); err == nil && join {
				return nil // joined before: the answer to that was lost
			}
			return farm.ErrStranger
		}
		if err := tx.Delete(&row).Error; err != nil || !join {
			return tx.Note("declined", "", err)
		}
		tx.Actor.UserID = userID
		return tx.Note("joined as", row.Role, tx.Save(&store.Member{FarmID: farmID, UserID: userID, Role: row.Role}).Error)
	})
}
