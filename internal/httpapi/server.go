// Package httpapi carries figures between the web app and the use cases of internal/farm: routes, sessions, problem
// details, and the web app itself. It decides nothing about grazing.
package httpapi

import (
	"context"
	"database/sql"
	"encoding/json"
	"log/slog"
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
	s.Engine.Use(gin.Recovery(), secure, deadline, gzip.Gzip(gzip.DefaultCompression), tagged)

	config := huma.DefaultConfig("Fjell", Version)
	config.DocsPath, config.SchemasPath, config.OpenAPIPath = "", "", "/api/openapi"
	config.CreateHooks = nil // no $schema links in answers
	config.Formats = map[string]huma.Format{"application/json": jsonFormat, "json": jsonFormat}
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
	switch {
	case c.Request.Method == http.MethodGet && strings.HasPrefix(c.Request.URL.Path, "/api/farms/"):
		h.Set("Cache-Control", "private, no-cache") // kept, and asked about each time by its tag
	case strings.HasPrefix(c.Request.URL.Path, "/api/"):
		h.Set("Cache-Control", "no-store")
	}
}

func deadline(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), requestDeadline)
	defer cancel()
	c.Request = c.Request.WithContext(ctx)
	c.Next()
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

type setting[T any] struct {
	FarmPath
	IfMatch
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
