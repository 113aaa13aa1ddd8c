package farm

import (
	"context"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/internal/store"
)

// Account is a person who can sign in.
type Account struct {
	ID    string `json:"id"`
	Email string `json:"email"`
	Name  string `json:"name"`
	// Minding is which kinds of what needs minding they want quiet, and which first.
	Minding store.MindingChoice `json:"minding"`
	// PutAway is the cautions they have seen, quiet for them until their conditions return.
	PutAway []store.PutAway `json:"put_away" nullable:"false"`
}

func accountOf(u store.User) Account {
	m := u.Minding.V
	minding := store.MindingChoice{Own: m.Own || len(m.Quiet)+len(m.First) > 0, Quiet: append([]string{}, m.Quiet...), First: append([]string{}, m.First...)}
	return Account{u.ID, u.Email, u.Name, minding, append([]store.PutAway{}, u.PutAway.V...)}
}

// MindingChoice is which kinds of what needs minding a person wants quiet, and which first.
type MindingChoice = store.MindingChoice

// PutAway is a caution that a person has seen.
type PutAway = store.PutAway

// SetMinding says which kinds of what needs minding a person wants quiet, and which first. What is quiet is still counted.
func (s *Service) SetMinding(ctx context.Context, userID string, in store.MindingChoice) (Account, error) {
	seen := map[string]bool{}
	for field, kinds := range map[string][]string{"quiet": in.Quiet, "first": in.First} {
		for _, k := range kinds {
			if !slices.Contains(grazing.MindingKinds, k) || seen[k] {
				return Account{}, quantity.Refuse(field, k, "must be one of %s, in one list and once", strings.Join(grazing.MindingKinds, ", "))
			}
			seen[k] = true
		}
	}
	err := store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		return tx.Model(&store.User{}).Where("id = ?", userID).Update("minding", store.JSON[store.MindingChoice]{V: in}).Error
	})
	if err != nil {
		return Account{}, Say(err)
	}
	return s.Account(ctx, userID)
}

// mostPutAway is how many cautions a person's list of those put away may hold.
const mostPutAway = 200

// SetPutAway says which cautions a person has seen.
func (s *Service) SetPutAway(ctx context.Context, userID string, in []store.PutAway) (Account, error) {
	if len(in) > mostPutAway {
		return Account{}, quantity.Refuse("put_away", len(in), "at most %d are kept", mostPutAway)
	}
	for _, p := range in {
		if err := CheckID("farm_id", p.FarmID); err != nil {
			return Account{}, err
		}
		if _, err := reference.Load().Caution(p.Caution); err != nil {
			return Account{}, err
		}
		if _, err := p.Since.Time(time.UTC); err != nil {
			return Account{}, quantity.Refuse("since", string(p.Since), "must be a day, as 2026-06-10")
		}
	}
	err := store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		return tx.Model(&store.User{}).Where("id = ?", userID).Update("put_away", store.JSON[[]store.PutAway]{V: in}).Error
	})
	if err != nil {
		return Account{}, Say(err)
	}
	return s.Account(ctx, userID)
}

// Length of a password, letters.
const (
	leastPasswordRune = 10
	mostPasswordRune  = 200
)

// decoy is compared against when an account does not exist, so that a stranger cannot tell by the time taken.
var decoy = sync.OnceValue(func() string {
	hash, err := argon2id.CreateHash("no such account", argon2id.DefaultParams)
	if err != nil {
		panic(err)
	}
	return hash
})

// SignUp makes an account. The same again is answered with the account it made, if the password is right: an answer may
// have been lost.
func (s *Service) SignUp(ctx context.Context, email, person, password string, who Visitor) (Account, string, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	addr, err := mail.ParseAddress(email)
	if err != nil || addr.Address != email || len(email) > 254 {
		return Account{}, "", quantity.Refuse("email", email, "is not an e-mail address")
	}
	if person, err = CheckName("name", person); err != nil {
		return Account{}, "", err
	}
	if err := checkPassword("password", password, email, person); err != nil {
		return Account{}, "", err
	}
	db := s.DB.WithContext(ctx)
	mark := "address|" + place(who.Address)
	a, err := s.try(db, "sign-up", mark)
	if err != nil {
		return Account{}, "", err
	}
	made, err := s.tally(db, "sign-up", mark, a.ids[mark])
	if err != nil {
		return Account{}, "", err
	}
	if made.N >= mostSignUps {
		return Account{}, "", &TooMany{doorWindow}
	}
	s.sweepDoor(db)
	hash, err := s.hash(ctx, password)
	if err != nil {
		return Account{}, "", err
	}
	user := store.User{ID: NewID(), Email: email, Name: person, PasswordHash: hash, Minding: store.JSON[store.MindingChoice]{V: store.MindingChoice{Quiet: []string{}, First: []string{}}}, PutAway: store.JSON[[]store.PutAway]{V: []store.PutAway{}}, CreatedAt: time.Now().UTC()}
	err = store.Atomically(ctx, s.DB, func(tx *gorm.DB) error { return tx.Create(&user).Error })
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		account, device, err := s.SignIn(ctx, email, password, who)
		if errors.Is(err, ErrSignIn) {
			return Account{}, "", quantity.Refuse("email", email, "already has an account: sign in instead")
		}
		return account, device, err
	}
	if err != nil {
		return Account{}, "", Say(err)
	}
	device, err := s.remember(db, user.ID, "", false)
	return accountOf(user), device, err
}

// Account returns the account of a signed-in user.
func (s *Service) Account(ctx context.Context, userID string) (Account, error) {
	var user store.User
	err := s.DB.WithContext(ctx).First(&user, "id = ?", userID).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return Account{}, ErrNotFound
	}
	return accountOf(user), err
}

// proven is a user whose password was given once more; who guesses at it waits as at the door.
func (s *Service) proven(ctx context.Context, userID, field, password string) (store.User, error) {
	var user store.User
	db := s.DB.WithContext(ctx)
	if err := db.First(&user, "id = ?", userID).Error; err != nil {
		return user, err
	}
	mark := "own|" + userID + "|password"
	a, err := s.try(db, "password", mark)
	if err != nil {
		return user, err
	}
	tried, err := s.tally(db, "password", mark, a.ids[mark])
	if err != nil {
		return user, err
	}
	if wait := waitAfter(tried, freeTries); wait > 0 {
		return user, &TooMany{wait}
	}
	match, err := s.compare(ctx, password, user.PasswordHash)
	if err != nil {
		return user, err
	}
	if !match {
		return user, quantity.Refuse(field, nil, "is not your present password")
	}
	return user, s.forgive(db, "password", mark)
}

// ChangePassword replaces a password when the old one is given.
func (s *Service) ChangePassword(ctx context.Context, userID, old, next string) error {
	user, err := s.proven(ctx, userID, "old_password", old)
	if err != nil {
		return err
	}
	if err := checkPassword("new_password", next, user.Email, user.Name); err != nil {
		return err
	}
	hash, err := s.hash(ctx, next)
	if err != nil {
		return err
	}
	return store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		if err := tx.Model(&store.User{}).Where("id = ?", userID).Update("password_hash", hash).Error; err != nil {
			return err
		}
		return tx.Delete(&store.KnownDevice{}, "user_id = ?", userID).Error
	})
}

// GiveUpAccount takes a person's name, e-mail and password away and ends their memberships. What they wrote down stays
// on the farms, by somebody who has left. A farm of theirs alone goes with them; one that others work on must have
// another owner first.
func (s *Service) GiveUpAccount(ctx context.Context, userID, password string) error {
	if _, err := s.proven(ctx, userID, "password", password); err != nil {
		return err
	}
	return Say(store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		var mine []store.Member
		if err := tx.Order("farm_id").Find(&mine, "user_id = ?", userID).Error; err != nil {
			return err
		}
		for _, m := range mine {
			row, err := s.lock(tx, Actor{FarmID: m.FarmID})
			if err != nil {
				return err
			}
			var others, owners int64
			if err := tx.Model(&store.Member{}).Where("farm_id = ? AND user_id <> ?", m.FarmID, userID).Count(&others).Error; err != nil {
				return err
			}
			if err := tx.Model(&store.Member{}).Where("farm_id = ? AND user_id <> ? AND role = ?", m.FarmID, userID, Owner).Count(&owners).Error; err != nil {
				return err
			}
			switch {
			case others == 0:
				err = deleteFarm(tx, m.FarmID)
			case owners == 0:
				err = quantity.Refuse("account", nil, "%s has no other owner: make somebody else its owner first", row.Farm.Name)
			default:
				err = row.Leave(userID, "left")
			}
			if err != nil {
				return err
			}
		}
		for _, gone := range []any{&store.KnownDevice{}, &store.Invitation{}} {
			if err := tx.Delete(gone, "user_id = ?", userID).Error; err != nil {
				return err
			}
		}
		return tx.Model(&store.User{}).Where("id = ?", userID).
			Updates(map[string]any{"email": fmt.Sprintf("gone-%s@invalid", userID), "name": "somebody who left", "password_hash": ""}).Error
	}))
}

// deleteFarm takes a farm off with everything on it, records before what they name.
func deleteFarm(tx *gorm.DB, farmID string) error {
	for _, row := range []any{&store.Decision{}, &store.Price{}, &store.Scenario{}, &store.Cut{}, &store.Closure{}, &store.Dressing{}, &store.Fodder{}, &store.Reading{}, &store.Photo{}, &store.GateCall{}, &store.Job{}, &store.Look{}, &store.Tally{}, &store.Training{}, &store.Treatment{}, &store.AcceptedPlan{}, &store.Search{}, &store.Pin{}, &store.PlanMob{}, &store.Plan{}, &store.Move{}, &store.Measurement{},
		&store.Calibration{}, &store.StockEvent{}, &store.StockGroup{}, &store.Mob{}} {
		if err := tx.Where("farm_id = ?", farmID).Delete(row).Error; err != nil {
			return err
		}
	}
	return tx.Delete(&store.Farm{}, "id = ?", farmID).Error
}

// Leave takes a person off the farm; how is what the audit trail says of it.
func (tx *Writing) Leave(userID, how string) error {
	var user store.User
	if err := tx.First(&user, "id = ?", userID).Error; err != nil {
		return err
	}
	return tx.Note(how, user.Name, tx.Delete(&store.Member{}, "farm_id = ? AND user_id = ?", tx.Farm.ID, userID).Error)
}
