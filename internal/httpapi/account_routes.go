package httpapi

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fjell/core/reckon"
	"fjell/internal/farm"
)

// House is what the sign-in page needs to know of this installation.
type House struct {
	DemoEmail    string `json:"demo_email"`
	DemoPassword string `json:"demo_password"`
	Version      string `json:"version"`
}

// SignUp makes an account and signs it in.
type SignUp struct {
	Email    string `json:"email"`
	Name     string `json:"name"`
	Password string `json:"password"`
}

// SignIn opens a session.
type SignIn struct {
	Email    string `json:"email"`
	Password string `json:"password"`
}

// PasswordChange replaces a password.
type PasswordChange struct {
	Old string `json:"old_password"`
	New string `json:"new_password"`
}

// Me is the signed-in person with their farms.
type Me struct {
	Account farm.Account    `json:"account"`
	Farms   []farm.FarmView `json:"farms"`
}

func (s *Server) accountRoutes() {
	remember := func(op *huma.Operation) { op.Middlewares = append(op.Middlewares, rememberAddress) }
	route(s, anyone, http.MethodGet, "/api/house", "house", "What this installation offers", func(context.Context, *empty) (*body[House], error) {
		return &body[House]{House{s.Options.DemoEmail, s.Options.DemoPassword, Version}}, nil
	})
	route(s, anyone, http.MethodPost, "/api/sign-up", "sign-up", "Make an account", func(ctx context.Context, in *body[SignUp]) (*body[farm.Account], error) {
		account, err := s.Farm.SignUp(ctx, in.Body.Email, in.Body.Name, in.Body.Password)
		if err != nil {
			return nil, err
		}
		return answer(account, s.openSession(ctx, account.ID))
	})
	route(s, anyone, http.MethodPost, "/api/sign-in", "sign-in", "Open a session", func(ctx context.Context, in *body[SignIn]) (*body[farm.Account], error) {
		account, err := s.Farm.SignIn(ctx, in.Body.Email, in.Body.Password, address(ctx))
		if err != nil {
			return nil, err
		}
		return answer(account, s.openSession(ctx, account.ID))
	}, remember)
	route(s, anyone, http.MethodPost, "/api/sign-out", "sign-out", "Close the session", func(ctx context.Context, _ *empty) (*empty, error) {
		return &empty{}, s.sessions.Destroy(ctx)
	})
	route(s, signedIn, http.MethodGet, "/api/me", "me", "Who is signed in", func(ctx context.Context, _ *empty) (*body[Me], error) {
		account, err := s.Farm.Account(ctx, user(ctx))
		if err != nil {
			return nil, err
		}
		farms, err := s.Farm.Farms(ctx, user(ctx))
		return answer(Me{account, farms}, err)
	})
	route(s, signedIn, http.MethodPost, "/api/password", "change-password", "Change the password; every other session ends", func(ctx context.Context, in *body[PasswordChange]) (*empty, error) {
		me := user(ctx)
		if err := s.Farm.ChangePassword(ctx, me, in.Body.Old, in.Body.New); err != nil {
			return nil, err
		}
		if err := s.sessions.Iterate(ctx, func(other context.Context) error {
			if s.sessions.GetString(other, sessionUser) == me {
				return s.sessions.Destroy(other)
			}
			return nil
		}); err != nil {
			return nil, err
		}
		return &empty{}, s.openSession(ctx, me)
	})
	route(s, signedIn, http.MethodPost, "/api/clock/forward", "clock-forward", "Move the demo's held clock forward", func(ctx context.Context, in *body[Forward]) (*body[ClockView], error) {
		now, err := s.Farm.Clock.Forward(ctx, in.Body.Days)
		return answer(ClockView{now}, err)
	})
}

// Forward says by how many days.
type Forward struct {
	Days int `json:"days"`
}

// ClockView is Fjell's time.
type ClockView struct {
	Now time.Time `json:"now"`
}

// openSession signs a person in under a new token; the one before is dead.
func (s *Server) openSession(ctx context.Context, userID string) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	s.sessions.Put(ctx, sessionUser, userID)
	return nil
}

// rawJSON leaves reading and judging the body to the use case, which says more than a schema can.
func rawJSON(op *huma.Operation) { op.SkipValidateBody = true }

type rawSum struct {
	Sum     string `path:"sum"`
	RawBody []byte `contentType:"application/json"`
}

func (s *Server) sumRoutes() {
	route(s, anyone, http.MethodGet, "/api/sums", "sums", "The pocket sums and what each takes", func(context.Context, *empty) (*body[[]reckon.Sum], error) {
		return &body[[]reckon.Sum]{reckon.Sums()}, nil
	})
	route(s, anyone, http.MethodPost, "/api/sums/{sum}", "reckon", "Do a pocket sum", func(_ context.Context, in *rawSum) (*body[reckon.Result], error) {
		sum, err := reckon.Find(in.Sum)
		if err != nil {
			return nil, farm.ErrNotFound
		}
		return answer(sum.Run(in.RawBody))
	}, rawJSON)
}
