// Package httpapi carries figures between the web app and the use cases of the places: routes, sessions, problem
// details, and the web app itself. It decides nothing about grazing.
package httpapi

import (
	"context"
	"encoding/json"
	"log/slog"
	"net/http"
	"reflect"
	"runtime/debug"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"fjell/core/measuring"
	"fjell/internal/house"
)

// Version of the program, shown in its API document.
const Version = "0.4.0"

// Options say how a server is run.
type Options struct {
	TLS            bool     // it speaks HTTPS itself
	Secure         bool     // browsers reach it over HTTPS: cookies are theirs alone
	TrustedProxies []string // addresses whose forwarded-for is believed; none unless set
	DemoEmail      string   // the demo's sign-in, offered on the sign-in page
	DemoPassword   string
	Post           *Post      // sends mail; nil where none is set
	DemoFarms      []DemoFarm // of that sign-in, in the order in which they are offered
}

// Server is the HTTP side of Fjell.
type Server struct {
	House    *house.House
	API      huma.API
	Engine   *gin.Engine
	Options  Options
	sessions *scs.SessionManager

	mu        sync.Mutex
	byAddress map[string]int // requests under way
	stopping  atomic.Bool
}

// requestDeadline ends work that a person has stopped waiting for.
const requestDeadline = 20 * time.Second

// New builds the server over a service, which may have no database when only the API document is wanted.
func New(house *house.House, options Options) (*Server, error) {
	gin.SetMode(gin.ReleaseMode)
	huma.DefaultArrayNullable = false
	s := &Server{House: house, Options: options, Engine: gin.New(), sessions: newSessions(house.Farm.DB, options.Secure), byAddress: map[string]int{}}
	if err := s.Engine.SetTrustedProxies(options.TrustedProxies); err != nil {
		return nil, err
	}
	s.sessions.ErrorFunc = noSession
	s.Engine.Use(gin.CustomRecoveryWithWriter(nil, s.recovered), s.secure, s.crowd, gzip.Gzip(gzip.DefaultCompression), tagged)

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
	s.yardRoutes()
	s.queueRoutes()
	s.yearRoutes()
	s.moveRoutes()
	// What core says in the browser has no route, but its shape is part of the document.
	s.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[measuring.View](), true, "View")
	boundItems(s.API)
	s.webApp()
	return s, nil
}

// Handler is the whole server with sessions and cross-origin protection around it. Whether it lives and is ready can be
// asked without a session: also when none can be read.
func (s *Server) Handler() http.Handler {
	app := http.NewCrossOriginProtection().Handler(s.sessions.LoadAndSave(s.Engine))
	mux := http.NewServeMux()
	mux.HandleFunc("GET /healthz", func(w http.ResponseWriter, _ *http.Request) { told(w, http.StatusOK, "alive") })
	mux.HandleFunc("GET /readyz", s.ready)
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		if s.stopping.Load() {
			w.Header().Set("Connection", "close")
		}
		app.ServeHTTP(w, r)
	})
	return mux
}

// Stopping says that the server is about to stop, so that whoever spreads the load sends no more.
func (s *Server) Stopping() { s.stopping.Store(true) }

// ready answers whether requests can be served now.
func (s *Server) ready(w http.ResponseWriter, r *http.Request) {
	if s.stopping.Load() {
		told(w, http.StatusServiceUnavailable, "stopping")
		return
	}
	ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
	defer cancel()
	if err := s.House.Farm.DB.WithContext(ctx).Exec("DO 1").Error; err != nil {
		told(w, http.StatusServiceUnavailable, "the database does not answer")
		return
	}
	told(w, http.StatusOK, "ready")
}

func told(w http.ResponseWriter, status int, text string) {
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_, _ = w.Write([]byte(text + "\n"))
}

// policy lets a page load from Fjell alone, and run core compiled for the browser.
const policy = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"

func (s *Server) secure(c *gin.Context) {
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(writeAtMost)) // nobody reads an answer for ever
	h := c.Writer.Header()
	if s.Options.Secure {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	// A page knows by its own mark whether an answer is of now, or one that its device kept.
	if mark := c.GetHeader("Fjell-Asked"); mark != "" && len(mark) <= 36 {
		h.Set("Fjell-Asked", mark)
	}
	switch {
	case c.Request.Method == http.MethodGet && strings.HasPrefix(c.Request.URL.Path, "/api/farms/"):
		h.Set("Cache-Control", "private, no-cache") // kept, and asked about each time by its tag
	case strings.HasPrefix(c.Request.URL.Path, "/api/"):
		h.Set("Cache-Control", "no-store")
	}
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

// mostAtOnce is how many requests one address may have under way.
const mostAtOnce = 48

// writeAtMost is how long an answer may take to be read, with the work before it and the body before that.
const writeAtMost = 4 * time.Hour

// crowd turns those away that already have many requests under way from one address.
func (s *Server) crowd(c *gin.Context) {
	from := c.ClientIP()
	s.mu.Lock()
	full := s.byAddress[from] >= mostAtOnce
	if !full {
		s.byAddress[from]++
	}
	s.mu.Unlock()
	if full {
		c.Header("Retry-After", "2")
		writeModel(c.Writer, bounded(http.StatusTooManyRequests, "too many requests at once from your address: try again in a moment"))
		c.Abort()
		return
	}
	defer func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		if s.byAddress[from]--; s.byAddress[from] <= 0 {
			delete(s.byAddress, from)
		}
	}()
	c.Next()
}

// recovered answers a request that ran into a fault of ours.
func (s *Server) recovered(c *gin.Context, fault any) {
	slog.ErrorContext(c.Request.Context(), "panic", "fault", fault, "path", c.FullPath(), "stack", string(debug.Stack()))
	writeModel(c.Writer, bounded(http.StatusInternalServerError, "something went wrong on our side"))
	c.Abort()
}
