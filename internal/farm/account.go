package farm

import (
	"context"
	"errors"
	"fmt"
	"net/mail"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Account is a person who can sign in.
type Account struct {
	ID    string `json:"id"`
	Email string `json:"email"`
	Name  string `json:"name"`
}

// Sign-in limits: failures within the window, by account and by network address.
const (
	signInWindow      = 15 * time.Minute
	mostPerAccount    = 10
	mostPerAddress    = 60
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

func checkPassword(field, password string) error {
	if n := len([]rune(password)); n < leastPasswordRune || n > mostPasswordRune {
		return quantity.Refuse(field, nil, "a password has %d to %d letters; a short sentence is easy to remember", leastPasswordRune, mostPasswordRune)
	}
	return nil
}

// SignUp makes an account.
func (s *Service) SignUp(ctx context.Context, email, person, password string) (Account, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	addr, err := mail.ParseAddress(email)
	if err != nil || addr.Address != email || len(email) > 254 {
		return Account{}, quantity.Refuse("email", email, "is not an e-mail address")
	}
	if person, err = name("name", person); err != nil {
		return Account{}, err
	}
	if err := checkPassword("password", password); err != nil {
		return Account{}, err
	}
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return Account{}, fmt.Errorf("hash password: %w", err)
	}
	user := store.User{ID: newID(), Email: email, Name: person, PasswordHash: hash, CreatedAt: time.Now().UTC()}
	err = s.DB.WithContext(ctx).Create(&user).Error
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return Account{}, quantity.Refuse("email", email, "already has an account: sign in instead")
	}
	return Account{user.ID, user.Email, user.Name}, err
}

// SignIn checks a password. Failures are counted in the database, so that every app process sees them.
func (s *Service) SignIn(ctx context.Context, email, password, address string) (Account, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	db := s.DB.WithContext(ctx)
	marks := map[string]int64{"account:" + email: mostPerAccount, "address:" + address: mostPerAddress}
	since := time.Now().UTC().Add(-signInWindow)
	for mark, most := range marks {
		var failures int64
		if err := db.Model(&store.SignInAttempt{}).Where("mark = ? AND at > ?", mark, since).Count(&failures).Error; err != nil {
			return Account{}, fmt.Errorf("sign-in limit: %w", err)
		}
		if failures >= most {
			return Account{}, ErrTooMany
		}
	}
	var user store.User
	err := db.First(&user, "email = ?", email).Error
	hash := user.PasswordHash
	if errors.Is(err, gorm.ErrRecordNotFound) {
		hash = decoy()
	} else if err != nil {
		return Account{}, err
	}
	match, cmpErr := argon2id.ComparePasswordAndHash(password, hash)
	if cmpErr != nil {
		return Account{}, fmt.Errorf("compare password: %w", cmpErr)
	}
	if err != nil || !match {
		for mark := range marks {
			if err := db.Create(&store.SignInAttempt{ID: uuid.NewString(), Mark: mark, At: time.Now().UTC()}).Error; err != nil {
				return Account{}, fmt.Errorf("sign-in limit: %w", err)
			}
		}
		db.Where("at < ?", since).Delete(&store.SignInAttempt{})
		return Account{}, ErrSignIn
	}
	return Account{user.ID, user.Email, user.Name}, nil
}

// Account returns the account of a signed-in user.
func (s *Service) Account(ctx context.Context, userID string) (Account, error) {
	var user store.User
	err := s.DB.WithContext(ctx).First(&user, "id = ?", userID).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return Account{}, ErrNotFound
	}
	return Account{user.ID, user.Email, user.Name}, err
}

// ChangePassword replaces a password when the old one is given.
func (s *Service) ChangePassword(ctx context.Context, userID, old, next string) error {
	var user store.User
	if err := s.DB.WithContext(ctx).First(&user, "id = ?", userID).Error; err != nil {
		return err
	}
	match, err := argon2id.ComparePasswordAndHash(old, user.PasswordHash)
	if err != nil {
		return fmt.Errorf("compare password: %w", err)
	}
	if !match {
		return quantity.Refuse("old_password", nil, "is not your present password")
	}
	if err := checkPassword("new_password", next); err != nil {
		return err
	}
	hash, err := argon2id.CreateHash(next, argon2id.DefaultParams)
	if err != nil {
		return fmt.Errorf("hash password: %w", err)
	}
	return s.DB.WithContext(ctx).Model(&store.User{}).Where("id = ?", userID).Update("password_hash", hash).Error
}
