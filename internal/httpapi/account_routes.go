package httpapi

import (
	"context"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fjell/core/quantity"
	"fjell/core/reckon"
	"fjell/internal/farm"
	"fjell/internal/farm/people"
)

// DemoFarm is a farm of the demo, with what it shows.
type DemoFarm struct {
	Name  string `json:"name"`
	About string `json:"about"`
}

// House is what the sign-in page needs to know of this installation.
type House struct {
	DemoEmail    string     `json:"demo_email"`
	DemoPassword string     `json:"demo_password"`
	DemoFarms    []DemoFarm `json:"demo_farms" nullable:"false"`
	Mail         bool       `json:"mail" doc:"it can send mail"`
	Version      string     `json:"version"`
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
	Account farm.Account            `json:"account"`
	Farms   []farm.FarmView         `json:"farms"`
	Asked   []people.InvitationView `json:"invitations" nullable:"false"`
}

func (s *Server) accountRoutes() {
	door := func(op *huma.Operation) {
		op.MaxBodyBytes = smallBody
		op.Middlewares = append(op.Middlewares, rememberAddress)
	}
	route(s, anyone, http.MethodGet, "/api/house", "house", "What this installation offers", func(context.Context, *empty) (*body[House], error) {
		return &body[House]{House{s.Options.DemoEmail, s.Options.DemoPassword, append([]DemoFarm{}, s.Options.DemoFarms...), s.Options.Post != nil, Version}}, nil
	})
	route(s, anyone, http.MethodPost, "/api/sign-up", "sign-up", "Make an account", func(ctx context.Context, in *doorInput[SignUp]) (*doorAnswer, error) {
		account, device, err := s.House.Farm.SignUp(ctx, in.Body.Email, in.Body.Name, in.Body.Password, farm.Visitor{Address: address(ctx), Device: in.Device.Value})
		return s.comeIn(ctx, account, device, err)
	}, door)
	route(s, anyone, http.MethodPost, "/api/sign-in", "sign-in", "Open a session", func(ctx context.Context, in *doorInput[SignIn]) (*doorAnswer, error) {
		account, device, err := s.House.Farm.SignIn(ctx, in.Body.Email, in.Body.Password, farm.Visitor{Address: address(ctx), Device: in.Device.Value})
		if err != nil {
			slog.WarnContext(ctx, "sign-in refused", "address", address(ctx), "why", err.Error())
		}
		return s.comeIn(ctx, account, device, err)
	}, door)
	route(s, anyone, http.MethodGet, "/api/links/{token}", "link", "Where a link leads", func(ctx context.Context, in *TokenPath) (*body[farm.LinkTo], error) {
		return answer(s.House.Farm.Link(ctx, in.Token))
	})
	route(s, signedIn, http.MethodPost, "/api/links/{token}/join", "join-by-link", "Join the farm a link leads to", func(ctx context.Context, in *TokenPath) (*body[Joined], error) {
		joined, err := s.House.Farm.JoinBy(ctx, user(ctx), in.Token)
		return answer(Joined{joined}, err)
	})
	route(s, anyone, http.MethodPost, "/api/links/{token}/password", "new-password", "Choose a new password; every session ends", func(ctx context.Context, in *newPassword) (*empty, error) {
		whose, err := s.House.Farm.NewPassword(ctx, in.Token, in.Body.Password)
		if err != nil {
			return nil, err
		}
		slog.InfoContext(ctx, "password chosen anew by a link", "user", whose)
		return &empty{}, s.endSessions(ctx, whose)
	}, room(smallBody))
	route(s, anyone, http.MethodPost, "/api/forgotten", "forgotten", "Send a link to a new password to whoever has this e-mail", func(ctx context.Context, in *body[ForgottenInput]) (*empty, error) {
		if s.Options.Post == nil {
			return nil, quantity.Refuse("email", nil, "this installation sends no mail: ask an owner of your farm for a link")
		}
		email := strings.ToLower(strings.TrimSpace(in.Body.Email))
		link, err := s.House.Farm.Forgotten(ctx, email, farm.Visitor{Address: address(ctx)})
		if err == nil && link != nil {
			s.Options.Post.sendLink(email, *link)
		}
		return &empty{}, err
	}, door)
	route(s, anyone, http.MethodPost, "/api/sign-out", "sign-out", "Close the session", func(ctx context.Context, _ *empty) (*goneAnswer, error) {
		return &goneAnswer{`"cache"`}, s.sessions.Destroy(ctx)
	})
	route(s, signedIn, http.MethodPost, "/api/sign-out-everywhere", "sign-out-everywhere", "Close every session of this person", func(ctx context.Context, _ *empty) (*goneAnswer, error) {
		if err := s.endSessions(ctx, user(ctx)); err != nil {
			return nil, err
		}
		return &goneAnswer{`"cache"`}, s.sessions.Destroy(ctx)
	})
	route(s, signedIn, http.MethodGet, "/api/me", "me", "Who is signed in", func(ctx context.Context, _ *empty) (*body[Me], error) {
		account, err := s.House.Farm.Account(ctx, user(ctx))
		if err != nil {
			return nil, err
		}
		farms, err := s.House.Farm.Farms(ctx, user(ctx))
		if err != nil {
			return nil, err
		}
		asked, err := s.House.People.Invitations(ctx, user(ctx))
		return answer(Me{account, farms, asked}, err)
	})
	route(s, signedIn, http.MethodPut, "/api/me/minding", "set-minding", "Say which kinds of what needs minding to keep quiet, and which to say first", func(ctx context.Context, in *body[farm.MindingChoice]) (*body[farm.Account], error) {
		return answer(s.House.Farm.SetMinding(ctx, user(ctx), in.Body))
	}, room(smallBody))
	route(s, signedIn, http.MethodPut, "/api/me/put-away", "set-put-away", "Say which cautions one has seen, to be quiet until their conditions return", func(ctx context.Context, in *body[[]farm.PutAway]) (*body[farm.Account], error) {
		return answer(s.House.Farm.SetPutAway(ctx, user(ctx), in.Body))
	})
	route(s, signedIn, http.MethodPost, "/api/password", "change-password", "Change the password; every other session ends", func(ctx context.Context, in *body[PasswordChange]) (*empty, error) {
		me := user(ctx)
		if err := s.House.Farm.ChangePassword(ctx, me, in.Body.Old, in.Body.New); err != nil {
			return nil, err
		}
		if err := s.endSessions(ctx, me); err != nil {
			return nil, err
		}
		slog.InfoContext(ctx, "password changed", "user", me)
		return &empty{}, s.openSession(ctx, me)
	}, room(smallBody))
	route(s, signedIn, http.MethodPost, "/api/account/give-up", "give-up-account", "Give the account up: what was written down stays, without a name", func(ctx context.Context, in *body[GiveUp]) (*goneAnswer, error) {
		me := user(ctx)
		if err := s.House.Farm.GiveUpAccount(ctx, me, in.Body.Password); err != nil {
			return nil, err
		}
		slog.InfoContext(ctx, "account given up", "user", me)
		if err := s.endSessions(ctx, me); err != nil {
			return nil, err
		}
		return &goneAnswer{`"cache"`}, s.sessions.Destroy(ctx)
	}, room(smallBody))
	route(s, signedIn, http.MethodPost, "/api/invitations/{farm}", "answer-invitation", "Join a farm, or decline to", func(ctx context.Context, in *invitationAnswer) (*empty, error) {
		return &empty{}, s.House.People.AnswerInvitation(ctx, user(ctx), in.Farm, in.Body.Join)
	}, room(smallBody))
	route(s, signedIn, http.MethodPost, "/api/clock/forward", "clock-forward", "Move the demo's held clock forward", func(ctx context.Context, in *body[Forward]) (*body[ClockView], error) {
		now, err := s.House.Farm.Clock.Forward(ctx, in.Body.Days)
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

type doorInput[T any] struct {
	Device http.Cookie `cookie:"fjell-device"`
	Body   T
}

type doorAnswer struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
	Body      farm.Account
}

// TokenPath names a link.
type TokenPath struct {
	Token string `path:"token" maxLength:"64"`
}

// Joined names the farm.
type Joined struct {
	FarmID string `json:"farm_id"`
}

type newPassword struct {
	TokenPath
	Body struct {
		Password string `json:"password"`
	}
}

// LinkInput says as what somebody is to join.
type LinkInput struct {
	Role farm.Role `json:"role" enum:"owner,manager,hand,viewer"`
}

// ForgottenInput says whose password is forgotten.
type ForgottenInput struct {
	Email string `json:"email"`
}

type goneAnswer struct {
	ClearSiteData string `header:"Clear-Site-Data"`
}

type invitationAnswer struct {
	FarmPath
	Body struct {
		Join bool `json:"join"`
	}
}

// GiveUp proves who gives an account up.
type GiveUp struct {
	Password string `json:"password"`
}

// comeIn opens a session for an account, and has the browser known from now on.
func (s *Server) comeIn(ctx context.Context, account farm.Account, device string, err error) (*doorAnswer, error) {
	if err != nil {
		return nil, err
	}
	if err := s.openSession(ctx, account.ID); err != nil {
		return nil, err
	}
	slog.InfoContext(ctx, "signed in", "user", account.ID, "address", address(ctx))
	return &doorAnswer{http.Cookie{Name: "fjell-device", Value: device, Path: "/api", MaxAge: 2 * 365 * 24 * 3600, HttpOnly: true, Secure: s.Options.Secure,
		SameSite: http.SameSiteStrictMode}, account}, nil
}

// openSession signs a person in under a new token; the one before is dead.
func (s *Server) openSession(ctx context.Context, userID string) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	s.sessions.Put(ctx, sessionUser, userID)
	s.sessions.Put(ctx, sessionSeen, time.Now().Unix())
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
	}, rawJSON, room(sumBody))
}
