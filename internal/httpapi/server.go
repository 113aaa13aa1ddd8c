// Package httpapi carries figures between the web app and the use cases of internal/farm: routes, sessions, problem
// details, and the web app itself. It decides nothing about grazing.
package httpapi

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"log/slog"
	"net"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/internal/farm"
)

// Version of the program, shown in its API document.
const Version = "0.3.0"

// Options say how a server is run.
type Options struct {
	TLS            bool     // cookies are marked Secure
	TrustedProxies []string // addresses whose forwarded-for is believed; none unless set
	DemoEmail      string   // the demo's sign-in, offered on the sign-in page
	DemoPassword   string
}

// Server is the HTTP side of Fjell.
type Server struct {
	Farm     *farm.Service
	API      huma.API
	Engine   *gin.Engine
	Options  Options
	sessions *scs.SessionManager
}

// requestDeadline ends work that a person has stopped waiting for.
const requestDeadline = 20 * time.Second

// New builds the server over a service. pool may be nil when only the API document is wanted.
func New(service *farm.Service, pool *sql.DB, options Options) (*Server, error) {
	gin.SetMode(gin.ReleaseMode)
	huma.DefaultArrayNullable = false
	s := &Server{Farm: service, Options: options, Engine: gin.New(), sessions: scs.New()}
	if err := s.Engine.SetTrustedProxies(options.TrustedProxies); err != nil {
		return nil, err
	}
	if pool != nil {
		s.sessions.Store = mysqlstore.New(pool)
	}
	s.sessions.Lifetime = 30 * 24 * time.Hour
	s.sessions.Cookie.Name, s.sessions.Cookie.HttpOnly, s.sessions.Cookie.SameSite = "fjell", true, http.SameSiteLaxMode
	s.sessions.Cookie.Secure = options.TLS
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		slog.ErrorContext(r.Context(), "session", "error", err)
		http.Error(w, "the session could not be read: try again", http.StatusServiceUnavailable)
	}
	s.Engine.Use(gin.Recovery(), secure, deadline, gzip.Gzip(gzip.DefaultCompression))

	config := huma.DefaultConfig("Fjell", Version)
	config.DocsPath, config.SchemasPath, config.OpenAPIPath = "", "", "/api/openapi"
	config.CreateHooks = nil // no $schema links in answers
	s.API = humagin.New(s.Engine, config)
	s.accountRoutes()
	s.sumRoutes()
	s.farmRoutes()
	s.landRoutes()
	s.stockRoutes()
	s.walkRoutes()
	s.moveRoutes()
	// What core says in the browser has no route, but its shape is part of the document.
	s.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[measuring.View](), true, "View")
	s.webApp()
	return s, nil
}

// Handler is the whole server with sessions and cross-origin protection around it.
func (s *Server) Handler() http.Handler {
	return http.NewCrossOriginProtection().Handler(s.sessions.LoadAndSave(s.Engine))
}

// policy lets a page load from Fjell alone, and run core compiled for the browser.
const policy = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"

func secure(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		h.Set("Cache-Control", "no-store")
	}
}

func deadline(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), requestDeadline)
	defer cancel()
	c.Request = c.Request.WithContext(ctx)
	c.Next()
}

type contextKey int

const (
	userKey contextKey = iota
	actorKey
)

const sessionUser = "user"

// access of a route: who may call it. It is part of the route's description, so that no route can be without one.
type access struct {
	signedIn bool
	role     farm.Role // on the farm named in the path
}

var (
	anyone   = access{}
	signedIn = access{signedIn: true}
	viewer   = access{signedIn: true, role: farm.Viewer}
	hand     = access{signedIn: true, role: farm.Hand}
	manager  = access{signedIn: true, role: farm.Manager}
	owner    = access{signedIn: true, role: farm.Owner}
)

// route registers one operation. Everything below /api/farms/{farm} passes the farm's wall here, and only here.
func route[I, O any](s *Server, who access, method, path, id, summary string, handler func(context.Context, *I) (*O, error), with ...func(*huma.Operation)) {
	onFarm := strings.HasPrefix(path, "/api/farms/{farm}")
	if onFarm != (who.role != "") {
		panic("route " + path + ": a farm's route needs a role, and only a farm's")
	}
	op := huma.Operation{Method: method, Path: path, OperationID: id, Summary: summary, DefaultStatus: http.StatusOK,
		Errors: []int{http.StatusUnprocessableEntity}}
	if who.signedIn {
		op.Middlewares = append(op.Middlewares, s.wall(who))
	}
	for _, w := range with {
		w(&op)
	}
	huma.Register(s.API, op, func(ctx context.Context, in *I) (*O, error) {
		out, err := handler(ctx, in)
		if err != nil {
			return nil, problem(ctx, err)
		}
		return out, nil
	})
}

// wall lets in only people who are signed in and, on a farm, its members whose role covers the route.
func (s *Server) wall(who access) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		refuse := func(err error) {
			status := problem(ctx.Context(), err)
			_ = huma.WriteErr(s.API, ctx, status.GetStatus(), status.Error())
		}
		user := s.sessions.GetString(ctx.Context(), sessionUser)
		if user == "" {
			_ = huma.WriteErr(s.API, ctx, http.StatusUnauthorized, "sign in first")
			return
		}
		ctx = huma.WithValue(ctx, userKey, user)
		if who.role != "" {
			farmID := ctx.Param("farm")
			role, err := s.Farm.Role(ctx.Context(), farmID, user)
			if err == nil && !role.Includes(who.role) {
				err = farm.ErrForbidden
			}
			if err != nil {
				refuse(err)
				return
			}
			ctx = huma.WithValue(ctx, actorKey, farm.Actor{UserID: user, FarmID: farmID, Role: role})
		}
		next(ctx)
	}
}

func actor(ctx context.Context) farm.Actor { a, _ := ctx.Value(actorKey).(farm.Actor); return a }
func user(ctx context.Context) string      { u, _ := ctx.Value(userKey).(string); return u }

// address is where a request comes from, for the sign-in limit.
func address(ctx context.Context) string {
	a, _ := ctx.Value(addressKey{}).(string)
	return a
}

type addressKey struct{}

// UnusualType marks the problem of figures that are taken once they are confirmed.
const UnusualType = "urn:fjell:unusual"

// problem turns an error of a use case into a problem document (RFC 9457).
func problem(ctx context.Context, err error) huma.StatusError {
	var refused *quantity.Problem
	var unusual *farm.Unusual
	var changed *farm.Changed
	model := &huma.ErrorModel{Detail: err.Error()}
	switch {
	case errors.As(err, &refused):
		model.Status = http.StatusUnprocessableEntity
		model.Errors = []*huma.ErrorDetail{{Location: "body." + refused.Field, Message: refused.Message, Value: refused.Came}}
	case errors.As(err, &unusual):
		model.Status, model.Type = http.StatusUnprocessableEntity, UnusualType
		for _, p := range unusual.Problems {
			model.Errors = append(model.Errors, &huma.ErrorDetail{Location: "body." + p.Field, Message: p.Message, Value: p.Came})
		}
	case errors.As(err, &changed):
		model.Status = http.StatusPreconditionFailed
		model.Errors = []*huma.ErrorDetail{{Location: "header.If-Match", Message: "seen version", Value: changed.Yours},
			{Location: "stored", Message: "stored version", Value: map[string]any{"version": changed.Stored, "record": changed.Record}}}
	case errors.Is(err, farm.ErrNotFound), errors.Is(err, farm.ErrStranger):
		model.Status = http.StatusNotFound
	case errors.Is(err, farm.ErrForbidden):
		model.Status = http.StatusForbidden
	case errors.Is(err, farm.ErrSignIn), errors.Is(err, farm.ErrToken):
		model.Status = http.StatusUnauthorized
	case errors.Is(err, farm.ErrTooMany):
		model.Status = http.StatusTooManyRequests
	case errors.Is(err, farm.ErrSameID), errors.Is(err, farm.ErrClockRuns):
		model.Status = http.StatusConflict
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		model.Status, model.Detail = http.StatusServiceUnavailable, "this took too long and was stopped: nothing was changed, try again"
	default:
		slog.ErrorContext(ctx, "request failed", "error", err)
		model.Status, model.Detail = http.StatusInternalServerError, "something went wrong on our side; nothing was changed"
	}
	model.Title = http.StatusText(model.Status)
	return model
}

// IfMatch is the version of the record a change is based on.
type IfMatch struct {
	Version int `header:"If-Match" required:"true" doc:"version of the record that this change is based on"`
}

type body[T any] struct{ Body T }

func answer[T any](v T, err error) (*body[T], error) {
	if err != nil {
		return nil, err
	}
	return &body[T]{v}, nil
}

// FarmPath names the farm of a route.
type FarmPath struct {
	Farm string `path:"farm" format:"uuid"`
}

// ItemPath names a record of a farm.
type ItemPath struct {
	FarmPath
	ID string `path:"id" format:"uuid"`
}

type in[T any] struct {
	FarmPath
	Body T
}

type inItem[T any] struct {
	ItemPath
	Body T
}

type change[T any] struct {
	ItemPath
	IfMatch
	Body T
}

type empty struct{}

// OpenAPI is the API document as JSON.
func (s *Server) OpenAPI() ([]byte, error) {
	return json.MarshalIndent(s.API.OpenAPI(), "", " ")
}

// rememberAddress puts the network address of the client where the sign-in limit finds it.
func rememberAddress(ctx huma.Context, next func(huma.Context)) {
	ip := humagin.Unwrap(ctx).ClientIP()
	if ip == "" {
		ip, _, _ = net.SplitHostPort(ctx.RemoteAddr())
	}
	next(huma.WithValue(ctx, addressKey{}, ip))
}
