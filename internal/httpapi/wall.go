package httpapi

import (
	"context"
	"net"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/google/uuid"

	"fjell/core/quantity"
	"fjell/internal/farm"
)

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
		Errors: []int{http.StatusUnprocessableEntity}, Metadata: map[string]any{}}
	if onFarm && method != http.MethodGet {
		op.Parameters = append(op.Parameters, &huma.Param{Name: keyHeader, In: "header", Schema: &huma.Schema{Type: huma.TypeString, Format: "uuid"},
			Description: "The client's own id of this request. The same key with the same request is answered with the first result, so that sending it again is harmless."})
	}
	for _, w := range with {
		w(&op)
	}
	bound(&op)
	if who.signedIn {
		op.Middlewares = append(op.Middlewares, s.wall(who, onFarm && method == http.MethodGet && op.Metadata[liveKey] == nil))
	}
	huma.Register(s.API, op, func(ctx context.Context, in *I) (*O, error) {
		ctx, cancel := context.WithTimeout(ctx, requestDeadline) // from here: the body has its own time to come
		defer cancel()
		out, err := handler(ctx, in)
		if err != nil {
			return nil, problem(ctx, err)
		}
		return out, nil
	})
}

// keyHeader carries the client's own id of a request that makes no record with one.
const keyHeader = "Idempotency-Key"

// liveKey marks routes whose answer holds more than the facts of a version and a moment.
const liveKey = "live"

// live says that a route's answer can change while the farm's facts stay.
func live(op *huma.Operation) { op.Metadata[liveKey] = true }

// deskKey marks the routes of the desk.
const deskKey = "desk"

// desk says that a route is for those who plan, or look on: hands see Today, Walk, their sheet of moves and the emergency card.
func desk(op *huma.Operation) { op.Metadata[deskKey] = true }

// keyed says that a route takes nothing else that tells a repeat from another request.
func keyed(op *huma.Operation) {
	op.Metadata[keyHeader] = true
	for _, p := range op.Parameters {
		p.Required = p.Required || p.Name == keyHeader
	}
}

// wall lets in only people who are signed in and, on a farm, its members whose role covers the route. What a browser
// has already of a page that rests on the farm's facts alone is not made again.
func (s *Server) wall(who access, versioned bool) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		refuse := func(err error) {
			p := problem(ctx.Context(), err)
			s.writeProblem(ctx, p)
		}
		asking, cancel := context.WithTimeout(ctx.Context(), sessionWait)
		defer cancel()
		user := s.inUse(asking)
		if user == "" {
			_ = huma.WriteErr(s.API, ctx, http.StatusUnauthorized, "sign in first")
			return
		}
		ctx = huma.WithValue(ctx, userKey, user)
		if who.role != "" {
			farmID := ctx.Param("farm")
			member, err := s.House.Farm.Membership(asking, farmID, user)
			if err == nil && (!member.Role.Includes(who.role) || member.Role == farm.Hand && ctx.Operation().Metadata[deskKey] != nil) {
				err = farm.ErrForbidden
			}
			key := ctx.Header(keyHeader)
			if needed := ctx.Operation().Metadata[keyHeader] != nil; err == nil && (key != "" || needed) && uuid.Validate(key) != nil {
				err = quantity.Refuse(keyHeader, key, "must be a UUID: with it, sending this again is harmless")
			}
			if err != nil {
				refuse(err)
				return
			}
			if versioned {
				url := ctx.URL()
				tag := weakTag(build(), farmID, strconv.FormatInt(member.Facts, 10), member.Moment.Format(time.RFC3339Nano), string(member.Role), url.RequestURI())
				ctx.SetHeader("ETag", tag)
				if matches(ctx.Header("If-None-Match"), tag) {
					ctx.SetStatus(http.StatusNotModified)
					return
				}
			}
			ctx = huma.WithValue(ctx, unitsKey{}, member.Units)
			ctx = huma.WithValue(ctx, actorKey, farm.Actor{UserID: user, FarmID: farmID, Role: member.Role, Key: strings.ToLower(key)})
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

type unitsKey struct{}

// units are those that a farm's people read and write.
func units(ctx context.Context) quantity.System {
	if u, ok := ctx.Value(unitsKey{}).(quantity.System); ok {
		return u
	}
	return quantity.Metric
}

type addressKey struct{}

// rememberAddress puts the network address of the client where the sign-in limit finds it.
func rememberAddress(ctx huma.Context, next func(huma.Context)) {
	ip := humagin.Unwrap(ctx).ClientIP()
	if ip == "" {
		ip, _, _ = net.SplitHostPort(ctx.RemoteAddr())
	}
	next(huma.WithValue(ctx, addressKey{}, ip))
}
