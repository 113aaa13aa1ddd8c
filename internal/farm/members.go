package farm

import (
	"context"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Limits of a farm's people.
const (
	mostMembers = 200 // members and invitations of a farm
	mostAsked   = 50  // invitations waiting for one person
)

// MemberView is a person of a farm, or one who is asked to become one.
type MemberView struct {
	UserID  string `json:"user_id"`
	Email   string `json:"email"`
	Name    string `json:"name"`
	Role    Role   `json:"role" enum:"owner,manager,hand,viewer"`
	Invited bool   `json:"invited" doc:"asked, and has not answered yet"`
}

// Members lists a farm's people, then those who are asked.
func (s *Service) Members(ctx context.Context, a Actor) ([]MemberView, error) {
	out := []MemberView{}
	db := s.DB.WithContext(ctx)
	if err := db.Table("members").Joins("JOIN users ON users.id = members.user_id").Where("members.farm_id = ?", a.FarmID).
		Select("users.id AS user_id, users.email, users.name, members.role").Order("users.name, users.id").Scan(&out).Error; err != nil {
		return nil, err
	}
	asked := []MemberView{}
	err := db.Table("invitations").Joins("JOIN users ON users.id = invitations.user_id").Where("invitations.farm_id = ?", a.FarmID).
		Select("users.id AS user_id, users.email, users.name, invitations.role, TRUE AS invited").Order("users.name, users.id").Scan(&asked).Error
	return append(out, asked...), err
}

// SetMember changes a member's role, takes a person off the farm when role is empty, or asks somebody who is not on it
// to join. A farm keeps at least one owner.
func (s *Service) SetMember(ctx context.Context, a Actor, email string, role Role) ([]MemberView, error) {
	if role != "" && rank[role] == 0 {
		return nil, quantity.Refuse("role", string(role), "must be owner, manager, hand or viewer")
	}
	email = strings.ToLower(strings.TrimSpace(email))
	err := s.write(ctx, a, request{"", "member", []any{email, role}}, func(tx *writing) error {
		var user store.User
		if err := tx.Limit(1).Find(&user, "email = ?", email).Error; err != nil {
			return err
		}
		if user.ID == "" {
			return quantity.Refuse("email", email, "has no account here yet: ask them to make one first")
		}
		_, err := memberRole(tx.DB, a.FarmID, user.ID)
		switch {
		case errors.Is(err, ErrStranger) && role != "":
			return tx.invite(user, role)
		case errors.Is(err, ErrStranger):
			return tx.note("invitation taken back", user.Name, tx.Delete(&store.Invitation{}, "farm_id = ? AND user_id = ?", a.FarmID, user.ID).Error)
		case err != nil:
			return err
		case role == "":
			err = tx.leave(user.ID, "taken off the farm")
		default:
			err = tx.note("role", user.Name+": "+string(role), tx.Save(&store.Member{FarmID: a.FarmID, UserID: user.ID, Role: string(role)}).Error)
		}
		if err != nil {
			return err
		}
		return tx.keepsAnOwner()
	})
	return after(err, func() ([]MemberView, error) { return s.Members(ctx, a) })
}

func (tx *writing) invite(user store.User, role Role) error {
	userID := user.ID
	for _, limit := range []struct {
		most int64
		say  string
		of   *gorm.DB
	}{
		{mostMembers, "a farm has at most %d people and invitations", tx.Model(&store.Invitation{}).Where("farm_id = ?", tx.farm.ID)},
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
	row := store.Invitation{FarmID: tx.farm.ID, UserID: userID, Role: string(role), InvitedBy: tx.actor.UserID, InvitedAt: time.Now().UTC()}
	return tx.note("asked to join", user.Name+", as "+string(role), tx.Save(&row).Error)
}

func (tx *writing) leave(userID, how string) error {
	var user store.User
	if err := tx.First(&user, "id = ?", userID).Error; err != nil {
		return err
	}
	return tx.note(how, user.Name, tx.Delete(&store.Member{}, "farm_id = ? AND user_id = ?", tx.farm.ID, userID).Error)
}

func (tx *writing) keepsAnOwner() error {
	var owners int64
	if err := tx.Model(&store.Member{}).Where("farm_id = ? AND role = ?", tx.farm.ID, Owner).Count(&owners).Error; err != nil {
		return err
	}
	if owners == 0 {
		return quantity.Refuse("role", nil, "a farm keeps at least one owner")
	}
	return nil
}

// Leave takes the actor off the farm.
func (s *Service) Leave(ctx context.Context, a Actor) error {
	return s.write(ctx, a, request{"", "leave", a.UserID}, func(tx *writing) error {
		if err := tx.leave(a.UserID, "left"); err != nil {
			return err
		}
		return tx.keepsAnOwner()
	})
}

// InvitationView asks a person to join a farm.
type InvitationView struct {
	FarmID   string    `json:"farm_id"`
	FarmName string    `json:"farm_name"`
	Role     Role      `json:"role" enum:"owner,manager,hand,viewer"`
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
	return s.write(ctx, Actor{FarmID: farmID}, request{"", "answer invitation", []any{userID, join}}, func(tx *writing) error {
		var row store.Invitation
		if err := tx.Limit(1).Find(&row, "farm_id = ? AND user_id = ?", farmID, userID).Error; err != nil {
			return err
		}
		if row.UserID == "" {
			if _, err := memberRole(tx.DB, farmID, userID); err == nil && join {
				return nil // joined before: the answer to that was lost
			}
			return ErrStranger
		}
		if err := tx.Delete(&row).Error; err != nil || !join {
			return tx.note("declined", "", err)
		}
		tx.actor.UserID = userID
		return tx.note("joined as", row.Role, tx.Save(&store.Member{FarmID: farmID, UserID: userID, Role: row.Role}).Error)
	})
}
