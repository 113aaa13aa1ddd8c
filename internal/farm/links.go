package farm

import (
	"cmp"
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// How long a link is good for, and how many may be about.
const (
	joinLasts     = 7 * 24 * time.Hour
	passwordLasts = 24 * time.Hour
	mailedLasts   = time.Hour
	mostLinks     = 50 // of a farm, that nobody has used yet
	mostMails     = 3  // to one person within the door's window
)

// ErrLink says that a link leads nowhere.
var ErrLink = errors.New("this link has been used, or is too old: ask for a new one")

// LinkView is a link that was made: its token is shown once.
type LinkView struct {
	Token string    `json:"token"`
	Ends  time.Time `json:"ends_at"`
}

// LinkTo is where a link leads: to a farm, or to a new password.
type LinkTo struct {
	Kind     string    `json:"kind" enum:"join,password"`
	FarmName string    `json:"farm_name" doc:"of a link to join"`
	Role     Role      `json:"role" doc:"of a link to join"`
	By       string    `json:"by"`
	Email    string    `json:"email" doc:"whose password it is"`
	Ends     time.Time `json:"ends_at"`
}

// JoinLink makes a link by which one person joins the actor's farm.
func (s *Service) JoinLink(ctx context.Context, a Actor, role Role) (LinkView, error) {
	if !role.Known() {
		return LinkView{}, quantity.Refuse("role", string(role), "must be owner, manager, hand or viewer")
	}
	var out LinkView
	// Made anew when the press is repeated: a token is never kept, so an earlier answer cannot be given again.
	err := s.Write(ctx, a, Request{ID: NewID(), Kind: "join link", Body: role}, func(tx *Writing) error {
		var waiting int64
		if err := tx.Model(&store.Link{}).Where("farm_id = ? AND user_id IS NULL AND used_by IS NULL AND ends_at > ?", a.FarmID, time.Now().UTC()).Count(&waiting).Error; err != nil {
			return err
		}
		if waiting >= mostLinks {
			return quantity.Refuse("role", nil, "a farm has at most %d links that nobody has used yet", mostLinks)
		}
		var err error
		out, err = newLink(tx.DB, store.Link{FarmID: &a.FarmID, Role: string(role), MadeBy: a.UserID}, joinLasts)
		return tx.Note("link to join", string(role), err)
	})
	return out, err
}

// PasswordLink makes a link by which a member of the actor's farm chooses a new password. Whoever may hand it out could
// use it themselves, so it is made only for somebody all of whose farms are the actor's own.
func (s *Service) PasswordLink(ctx context.Context, a Actor, email string) (LinkView, error) {
	var out LinkView
	err := s.Write(ctx, a, Request{ID: NewID(), Kind: "password link", Body: email}, func(tx *Writing) error {
		var user store.User
		err := tx.Table("users").Joins("JOIN members ON members.user_id = users.id AND members.farm_id = ?", a.FarmID).Where("users.email = ?", email).Select("users.*").Take(&user).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return quantity.Refuse("email", email, "is nobody on this farm")
		}
		if err != nil {
			return err
		}
		owns, err := ownsAllOf(tx.DB, a.UserID, user.ID)
		if err != nil {
			return err
		}
		if !owns {
			return quantity.Refuse("email", email, "works on other farms too, which are not yours: they choose a new password by e-mail, or ask whoever keeps this installation")
		}
		out, err = newLink(tx.DB, store.Link{UserID: &user.ID, MadeBy: a.UserID}, passwordLasts)
		return tx.Note("link to a new password", user.Name, err)
	})
	return out, err
}

// Forgotten makes a link to a new password for whoever has this e-mail, to be sent there. It says nothing where nobody has.
func (s *Service) Forgotten(ctx context.Context, email string, who Visitor) (*LinkView, error) {
	db := s.DB.WithContext(ctx)
	for _, limit := range []struct {
		mark string
		most int
	}{{"address|" + place(who.Address), mostSignUps}, {"account|" + email, mostMails}} {
		a, err := s.try(db, "forgotten", limit.mark)
		if err != nil {
			return nil, err
		}
		asked, err := s.tally(db, "forgotten", limit.mark, a.ids[limit.mark])
		if err != nil {
			return nil, err
		}
		if asked.N >= limit.most {
			return nil, &TooMany{doorWindow}
		}
	}
	var user store.User
	if err := db.Limit(1).Find(&user, "email = ?", email).Error; err != nil || user.ID == "" {
		return nil, err
	}
	out, err := newLink(db, store.Link{UserID: &user.ID, MadeBy: user.ID}, mailedLasts)
	return &out, err
}

// ownsAllOf tells whether a person is on farms, and all of them are the owner's own.
func ownsAllOf(db *gorm.DB, owner, person string) (bool, error) {
	var farms struct{ Theirs, Own int64 }
	err := db.Table("members AS theirs").Joins("LEFT JOIN members AS mine ON mine.farm_id = theirs.farm_id AND mine.user_id = ? AND mine.role = ?", owner, Owner).
		Where("theirs.user_id = ?", person).Select("COUNT(*) AS theirs, COUNT(mine.user_id) AS own").Scan(&farms).Error
	return err == nil && farms.Theirs > 0 && farms.Own == farms.Theirs, err
}

func newLink(db *gorm.DB, link store.Link, lasts time.Duration) (LinkView, error) {
	now := time.Now().UTC()
	token := Secret()
	link.Digest, link.MadeAt, link.EndsAt = Digest(token), now, now.Add(lasts)
	if err := db.Delete(&store.Link{}, "ends_at < ?", now.Add(-joinLasts)).Error; err != nil {
		return LinkView{}, err
	}
	return LinkView{token, link.EndsAt}, db.Create(&link).Error
}

// openLink is the link that a token stands for, while it is good; how may lock it.
func openLink(db *gorm.DB, token string, how ...clause.Expression) (store.Link, error) {
	var link store.Link
	err := db.Clauses(how...).Limit(1).Find(&link, "digest = ? AND ends_at > ?", Digest(token), time.Now().UTC()).Error
	if err != nil {
		return link, err
	}
	if link.Digest == "" {
		return link, ErrLink
	}
	// Somebody may have joined other farms since an owner made them a link to a new password.
	if link.UserID != nil && link.MadeBy != *link.UserID {
		if owns, err := ownsAllOf(db, link.MadeBy, *link.UserID); err != nil || !owns {
			return link, cmp.Or(err, ErrLink)
		}
	}
	return link, nil
}

// Link tells where a link leads.
func (s *Service) Link(ctx context.Context, token string) (LinkTo, error) {
	db := s.DB.WithContext(ctx)
	link, err := openLink(db, token)
	if err != nil {
		return LinkTo{}, err
	}
	if link.UsedBy != nil {
		return LinkTo{}, ErrLink
	}
	out := LinkTo{Kind: "password", Role: Role(link.Role), Ends: link.EndsAt}
	if link.UserID != nil {
		return out, db.Model(&store.User{}).Where("id = ?", *link.UserID).Limit(1).Pluck("email", &out.Email).Error
	}
	out.Kind = "join"
	if err := db.Model(&store.User{}).Where("id = ?", link.MadeBy).Limit(1).Pluck("name", &out.By).Error; err != nil {
		return out, err
	}
	return out, db.Model(&store.Farm{}).Where("id = ?", *link.FarmID).Limit(1).Pluck("name", &out.FarmName).Error
}

// JoinBy joins the farm that a link leads to and tells which. A link is good for one person; theirs again is no fault. The
// role of somebody who is on the farm already stays.
func (s *Service) JoinBy(ctx context.Context, userID, token string) (farmID string, err error) {
	link, err := openLink(s.DB.WithContext(ctx), token)
	if err != nil {
		return "", err
	}
	if link.FarmID == nil {
		return "", ErrLink
	}
	return *link.FarmID, s.Write(ctx, Actor{FarmID: *link.FarmID}, Request{ID: NewID(), Kind: "join by link", Body: userID}, func(tx *Writing) error {
		link, err := openLink(tx.DB, token)
		if err != nil {
			return err
		}
		if link.UsedBy != nil && *link.UsedBy != userID {
			return ErrLink
		}
		// Whoever invited must still be one who may.
		if role, err := MemberRole(tx.DB, *link.FarmID, link.MadeBy); err != nil || !role.Includes(Owner) {
			return ErrLink
		}
		if _, err := MemberRole(tx.DB, *link.FarmID, userID); err == nil || !errors.Is(err, ErrStranger) {
			return err
		}
		if link.UsedBy != nil {
			return ErrLink // joined by it once, and has left since
		}
		if err := tx.Model(&link).Update("used_by", userID).Error; err != nil {
			return err
		}
		if err := tx.Delete(&store.Invitation{}, "farm_id = ? AND user_id = ?", *link.FarmID, userID).Error; err != nil {
			return err
		}
		tx.Actor.UserID = userID
		return tx.Note("joined by a link as", link.Role, tx.Save(&store.Member{FarmID: *link.FarmID, UserID: userID, Role: link.Role}).Error)
	})
}

// NewPassword sets the password of whoever a link was made for, and tells who that is.
func (s *Service) NewPassword(ctx context.Context, token, password string) (userID string, err error) {
	link, err := openLink(s.DB.WithContext(ctx), token)
	if err != nil {
		return "", err
	}
	if link.UserID == nil || link.UsedBy != nil {
		return "", ErrLink
	}
	var user store.User
	if err := s.DB.WithContext(ctx).First(&user, "id = ?", *link.UserID).Error; err != nil {
		return "", err
	}
	if err := checkPassword("password", password, user.Email, user.Name); err != nil {
		return "", err
	}
	hash, err := s.hash(ctx, password)
	if err != nil {
		return "", err
	}
	return user.ID, Say(store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		link, err := openLink(tx, token, clause.Locking{Strength: clause.LockingStrengthUpdate})
		if err != nil {
			return err
		}
		if link.UsedBy != nil {
			return ErrLink
		}
		if err := tx.Model(&store.User{}).Where("id = ?", user.ID).Update("password_hash", hash).Error; err != nil {
			return err
		}
		if err := tx.Delete(&store.KnownDevice{}, "user_id = ?", user.ID).Error; err != nil {
			return err
		}
		// Every other link to a new password of theirs is dead too.
		return tx.Model(&store.Link{}).Where("user_id = ? AND used_by IS NULL", user.ID).Update("used_by", user.ID).Error
	}))
}
