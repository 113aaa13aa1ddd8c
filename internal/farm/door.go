package farm

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	_ "embed"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"net/netip"
	"regexp"
	"runtime"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Secret is what only who is given it can know.
func Secret() string {
	raw := make([]byte, 24)
	_, _ = rand.Read(raw) // never fails: the program ends where there is no randomness
	return base64.RawURLEncoding.EncodeToString(raw)
}

// Digest is what is kept of a token, so that who reads the store cannot use it.
func Digest(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// The door: what is tried at it is counted before it is known whether it was right, so that a hundred tries at once are a
// hundred. Somebody who guesses waits longer and longer; a stranger can make nobody else wait for long, and not at all on
// a browser they have signed in from before.

// Limits at the door, within the window.
const (
	doorWindow    = 15 * time.Minute
	freeTries     = 5  // of one account from one address, or one known browser, before waiting begins
	accountTries  = 20 // of one account from everywhere, before tries are spaced out
	accountSpace  = 15 * time.Second
	addressTries  = 60 // of all accounts from one address
	mostSignUps   = 20 // from one address
	longestWait   = 15 * time.Minute
	mostDevices   = 20 // browsers remembered of a person
	hashesWaiting = 24
)

// TooMany says that somebody must wait before trying again.
type TooMany struct{ Wait time.Duration }

func (t *TooMany) Error() string {
	if t.Wait <= time.Minute {
		return fmt.Sprintf("too many attempts: wait %d seconds and try again", int(t.Wait.Seconds())+1)
	}
	return fmt.Sprintf("too many attempts: wait %d minutes and try again", int(t.Wait.Minutes())+1)
}

// tally is how often something was tried in the window, and when last.
type tally struct {
	N    int
	Last *time.Time
}

func (s *Service) tally(db *gorm.DB, kind, mark, but string) (tally, error) {
	var t tally
	err := db.Model(&store.SignInAttempt{}).Select("COUNT(*) AS n, MAX(at) AS last").
		Where("kind = ? AND mark = ? AND at > ? AND id <> ?", kind, mark, time.Now().UTC().Add(-doorWindow), but).Scan(&t).Error
	return t, err
}

// attempt counts a try under its marks and tells whether it must wait.
type attempt struct {
	ids   map[string]string // of each mark
	marks []string
}

func (s *Service) try(db *gorm.DB, kind string, marks ...string) (attempt, error) {
	a := attempt{map[string]string{}, marks}
	var rows []store.SignInAttempt
	for _, mark := range marks {
		a.ids[mark] = uuid.NewString()
		rows = append(rows, store.SignInAttempt{ID: a.ids[mark], Kind: kind, Mark: mark, At: time.Now().UTC()})
	}
	if err := db.Create(&rows).Error; err != nil {
		return a, fmt.Errorf("sign-in limit: %w", err)
	}
	return a, nil
}

// forgive forgets a try that was right, and those before it under the same marks.
func (s *Service) forgive(db *gorm.DB, kind string, marks ...string) error {
	return db.Delete(&store.SignInAttempt{}, "kind = ? AND mark IN ?", kind, marks).Error
}

// waitAfter is how long to wait after so many tries: twice as long each time.
func waitAfter(t tally, free int) time.Duration {
	if t.N < free || t.Last == nil {
		return 0
	}
	wait := min(longestWait, time.Second<<min(t.N-free, 12))
	return wait - time.Since(*t.Last)
}

// mayTry refuses a try that comes too soon.
func (s *Service) mayTry(db *gorm.DB, a attempt, kind, email, place string, known bool) error {
	wait := time.Duration(0)
	own, err := s.tally(db, kind, "own|"+email+"|"+place, a.ids["own|"+email+"|"+place])
	if err != nil {
		return err
	}
	wait = max(wait, waitAfter(own, freeTries))
	if !known {
		all, err := s.tally(db, kind, "account|"+email, a.ids["account|"+email])
		if err != nil {
			return err
		}
		if all.N >= accountTries && all.Last != nil {
			wait = max(wait, accountSpace-time.Since(*all.Last))
		}
		from, err := s.tally(db, kind, "address|"+place, a.ids["address|"+place])
		if err != nil {
			return err
		}
		if from.N >= addressTries && from.Last != nil {
			wait = max(wait, doorWindow-time.Since(*from.Last))
		}
	}
	if wait > 0 {
		return &TooMany{wait}
	}
	return nil
}

// place is where a request comes from, as far as it can be told apart: an address, or the network a person is given
// addresses of.
func place(address string) string {
	ip, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	if ip = ip.Unmap(); ip.Is6() {
		if prefix, err := ip.Prefix(64); err == nil {
			return prefix.String()
		}
	}
	return ip.String()
}

// Visitor is who stands at the door: where from, and what their browser was given when it last came in.
type Visitor struct {
	Address string
	Device  string
}

// SignIn checks a password. device is what the browser is to be known by from now on.
func (s *Service) SignIn(ctx context.Context, email, password string, who Visitor) (account Account, device string, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	if len(email) > 254 || len(password) > 4*mostPasswordRune {
		return Account{}, "", ErrSignIn
	}
	db := s.DB.WithContext(ctx)
	var user store.User
	if err := db.Limit(1).Find(&user, "email = ?", email).Error; err != nil {
		return Account{}, "", err
	}
	known := false
	if user.ID != "" && who.Device != "" {
		var n int64
		if err := db.Model(&store.KnownDevice{}).Where("user_id = ? AND digest = ?", user.ID, Digest(who.Device)).Count(&n).Error; err != nil {
			return Account{}, "", err
		}
		known = n > 0
	}
	from := place(who.Address)
	marks := []string{"own|" + email + "|" + from, "account|" + email, "address|" + from}
	if known {
		from = "device " + Digest(who.Device)
		marks = []string{"own|" + email + "|" + from}
	}
	a, err := s.try(db, "sign-in", marks...)
	if err != nil {
		return Account{}, "", err
	}
	if err := s.mayTry(db, a, "sign-in", email, from, known); err != nil {
		return Account{}, "", err
	}
	hash := user.PasswordHash
	if user.ID == "" {
		hash = decoy()
	}
	match, err := s.compare(ctx, password, hash)
	if err != nil {
		return Account{}, "", err
	}
	if user.ID == "" || !match {
		return Account{}, "", ErrSignIn
	}
	if err := s.forgive(db, "sign-in", marks[0]); err != nil {
		return Account{}, "", err
	}
	if len(marks) > 1 { // this one was right; others of the account still count against strangers
		if err := db.Delete(&store.SignInAttempt{}, "id IN ?", []string{a.ids[marks[1]], a.ids[marks[2]]}).Error; err != nil {
			return Account{}, "", err
		}
	}
	device, err = s.remember(db, user.ID, who.Device, known)
	return accountOf(user), device, err
}

// remember knows a browser from now on.
func (s *Service) remember(db *gorm.DB, userID, device string, known bool) (string, error) {
	if !known {
		device = Secret()
	}
	if err := db.Save(&store.KnownDevice{UserID: userID, Digest: Digest(device), SeenAt: time.Now().UTC()}).Error; err != nil {
		return "", err
	}
	var old []string
	if err := db.Model(&store.KnownDevice{}).Where("user_id = ?", userID).Order("seen_at DESC").Offset(mostDevices).Limit(100).Pluck("digest", &old).Error; err != nil {
		return "", err
	}
	if len(old) > 0 {
		return device, db.Delete(&store.KnownDevice{}, "user_id = ? AND digest IN ?", userID, old).Error
	}
	return device, nil
}

// sweepDoor forgets tries that no longer count.
func (s *Service) sweepDoor(db *gorm.DB) {
	db.Delete(&store.SignInAttempt{}, "at < ?", time.Now().UTC().Add(-2*doorWindow))
}

// hashing bounds how much memory and how many cores passwords may take: one takes 64 MB.
type hashing struct {
	once    sync.Once
	turns   chan struct{}
	mu      sync.Mutex
	waiting int
}

func (h *hashing) enter(ctx context.Context) (func(), error) {
	h.once.Do(func() { h.turns = make(chan struct{}, max(2, runtime.GOMAXPROCS(0))) })
	h.mu.Lock()
	if h.waiting >= hashesWaiting {
		h.mu.Unlock()
		return nil, &TooMany{2 * time.Second}
	}
	h.waiting++
	h.mu.Unlock()
	defer func() { h.mu.Lock(); h.waiting--; h.mu.Unlock() }()
	select {
	case h.turns <- struct{}{}:
		return func() { <-h.turns }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

func (s *Service) compare(ctx context.Context, password, hash string) (bool, error) {
	leave, err := s.hashing.enter(ctx)
	if err != nil {
		return false, err
	}
	defer leave()
	match, err := argon2id.ComparePasswordAndHash(password, hash)
	if errors.Is(err, argon2id.ErrInvalidHash) {
		return false, nil // of an account that was given up
	}
	return match, err
}

func (s *Service) hash(ctx context.Context, password string) (string, error) {
	leave, err := s.hashing.enter(ctx)
	if err != nil {
		return "", err
	}
	defer leave()
	return argon2id.CreateHash(password, argon2id.DefaultParams)
}

//go:embed passwords/common.txt
var commonWords string

// common are words that passwords are tried with first.
var common = sync.OnceValue(func() map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(commonWords) {
		out[w] = true
	}
	return out
})

var notLetters = regexp.MustCompile(`[^\p{L}]+`)

// guessable tells whether a password is one of the first that are tried: a common word with figures about it, one letter
// or a row of the keyboard over and over, or what everybody knows of the person.
func guessable(password string, about ...string) bool {
	lower := strings.ToLower(strings.NewReplacer("0", "o", "1", "l", "3", "e", "4", "a", "5", "s", "@", "a", "$", "s").Replace(password))
	plain := strings.ToLower(password)
	for _, form := range []string{plain, lower, notLetters.ReplaceAllString(plain, ""), notLetters.ReplaceAllString(lower, "")} {
		if common()[form] || form == "" {
			return true
		}
		for unit := 1; unit <= len(form)/2; unit++ {
			if len(form)%unit == 0 && strings.Repeat(form[:unit], len(form)/unit) == form && (unit < 4 || common()[form[:unit]]) {
				return true
			}
		}
	}
	for _, row := range []string{"abcdefghijklmnopqrstuvwxyz", "zyxwvutsrqponmlkjihgfedcba", "01234567890123456789", "98765432109876543210", "qwertyuiopasdfghjklzxcvbnm", "1q2w3e4r5t6y7u8i9o0p"} {
		if strings.Contains(row, plain) {
			return true
		}
	}
	for _, a := range about {
		name, _, _ := strings.Cut(strings.ToLower(a), "@")
		const tail = "0123456789!?.- "
		if bare := strings.Trim(name, tail); plain == strings.ToLower(a) || bare != "" && strings.Trim(plain, tail) == bare {
			return true
		}
	}
	return false
}

func checkPassword(field, password string, about ...string) error {
	if n := len([]rune(password)); n < leastPasswordRune || n > mostPasswordRune {
		return quantity.Refuse(field, nil, "a password has %d to %d letters; a short sentence is easy to remember", leastPasswordRune, mostPasswordRune)
	}
	if guessable(password, about...) {
		return quantity.Refuse(field, nil, "this is among the first passwords that are tried: a short sentence of your own is better")
	}
	return nil
}
