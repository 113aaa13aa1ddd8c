package httpapi

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/alexedwards/scs/v2"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/internal/store"
)

// Life of a session: as long as it is used, and never longer than a season.
const (
	sessionLife = 90 * 24 * time.Hour
	sessionIdle = 30 * 24 * time.Hour
	sessionWait = 5 * time.Second // for the database
	seenEvery   = 12 * time.Hour  // how often a session in use is written down as such
)

const sessionSeen = "seen"

func newSessions(db *gorm.DB, secure bool) *scs.SessionManager {
	s := scs.New()
	if db != nil {
		s.Store = sessionStore{db}
	}
	s.HashTokenInStore = true // whoever reads the table cannot use what is in it
	s.Lifetime = sessionLife
	s.Cookie.Name, s.Cookie.HttpOnly, s.Cookie.SameSite, s.Cookie.Path = "fjell", true, http.SameSiteLaxMode, "/"
	if secure {
		s.Cookie.Name, s.Cookie.Secure = "__Host-fjell", true
	}
	return s
}

// sessionStore keeps sessions in the database, by the digest of their token. Every question to it has an end.
type sessionStore struct{ db *gorm.DB }

func (s sessionStore) ask(ctx context.Context) (*gorm.DB, context.CancelFunc) {
	ctx, cancel := context.WithTimeout(ctx, sessionWait)
	return s.db.WithContext(ctx), cancel
}

// FindCtx reads a session that has not ended.
func (s sessionStore) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	db, cancel := s.ask(ctx)
	defer cancel()
	var row store.Session
	err := db.Limit(1).Find(&row, "token = ? AND expiry > ?", token, time.Now().UTC()).Error
	return row.Data, row.Token != "", err
}

// CommitCtx keeps a session.
func (s sessionStore) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	db, cancel := s.ask(context.WithoutCancel(ctx))
	defer cancel()
	row := store.Session{Token: token, Data: data, Expiry: expiry.UTC()}
	return db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&row).Error
}

// DeleteCtx ends a session.
func (s sessionStore) DeleteCtx(ctx context.Context, token string) error {
	db, cancel := s.ask(context.WithoutCancel(ctx))
	defer cancel()
	return db.Delete(&store.Session{}, "token = ?", token).Error
}

// AllCtx is every session that has not ended.
func (s sessionStore) AllCtx(ctx context.Context) (map[string][]byte, error) {
	db, cancel := s.ask(ctx)
	defer cancel()
	var rows []store.Session
	err := db.Find(&rows, "expiry > ?", time.Now().UTC()).Error
	out := map[string][]byte{}
	for _, r := range rows {
		out[r.Token] = r.Data
	}
	return out, err
}

// The library asks for these too; it uses those with a context where there are any.

func (s sessionStore) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}
func (s sessionStore) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}
func (s sessionStore) Delete(token string) error       { return s.DeleteCtx(context.Background(), token) }
func (s sessionStore) All() (map[string][]byte, error) { return s.AllCtx(context.Background()) }

// inUse is who a session belongs to, if it was used lately. That it is used is written down now and then, not at every
// request.
func (s *Server) inUse(ctx context.Context) string {
	user := s.sessions.GetString(ctx, sessionUser)
	if user == "" {
		return ""
	}
	now := time.Now()
	seen := time.Unix(s.sessions.GetInt64(ctx, sessionSeen), 0)
	switch idle := now.Sub(seen); {
	case idle > sessionIdle:
		_ = s.sessions.Destroy(ctx)
		return ""
	case idle > seenEvery:
		s.sessions.Put(ctx, sessionSeen, now.Unix())
	}
	return user
}

// endSessions ends every session of a person. What the library goes through carries the digests of the tokens, which it
// would digest once more, so they are taken out of the table here.
func (s *Server) endSessions(ctx context.Context, userID string) error {
	return s.sessions.Iterate(ctx, func(other context.Context) error {
		if s.sessions.GetString(other, sessionUser) == userID {
			return sessionStore{s.House.Farm.DB}.DeleteCtx(ctx, s.sessions.Token(other))
		}
		return nil
	})
}

// Sweep takes sessions that have ended out of the table, until the context ends.
func (s *Server) Sweep(ctx context.Context) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Hour):
		}
		once, cancel := context.WithTimeout(ctx, sessionWait)
		_ = s.House.Farm.DB.WithContext(once).Delete(&store.Session{}, "expiry < ?", time.Now().UTC()).Error
		cancel()
	}
}

// noSession answers a request whose session could not be read.
func noSession(w http.ResponseWriter, r *http.Request, err error) {
	if errors.Is(err, context.Canceled) {
		return
	}
	writeModel(w, problem(r.Context(), errors.Join(store.ErrGone, err)))
}
