package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/walk"
	"fjell/internal/store"
)

// UnusualType marks the problem of figures that are taken once they are confirmed.
const UnusualType = "urn:fjell:unusual"

// Types of problems that are no refusals: of a write that is kept though its page could not be shown, and of one nobody
// knows the outcome of.
const (
	KeptType    = "urn:fjell:kept"
	UnknownType = "urn:fjell:unknown"
)

// problem turns an error of a use case into a problem document (RFC 9457).
func problem(ctx context.Context, err error) *huma.ErrorModel {
	var refused *quantity.Problem
	var several quantity.Problems
	var unusual *farm.Unusual
	var changed *farm.Changed
	var kept *farm.Kept
	var waits *farm.TooMany
	model := &huma.ErrorModel{Detail: clipped(err.Error())}
	switch {
	case errors.As(err, &several):
		model.Status = http.StatusUnprocessableEntity
		model.Errors = details(ctx, several)
		said := make([]string, len(model.Errors))
		for i, d := range model.Errors {
			said[i] = d.Message
		}
		model.Detail = clipped(strings.Join(said, "; "))
	case errors.As(err, &refused):
		inUnits := refused.In(units(ctx))
		model.Detail = clipped(strings.Replace(err.Error(), refused.Error(), inUnits.Error(), 1))
		refused = &inUnits
		model.Status = http.StatusUnprocessableEntity
		model.Errors = []*huma.ErrorDetail{{Location: "body." + refused.Field, Message: clipped(refused.Message), Value: shown(refused.Field, refused.Came)}}
	case errors.As(err, &unusual):
		model.Status, model.Type = http.StatusUnprocessableEntity, UnusualType
		var strange quantity.Problems
		for i := range unusual.Problems {
			strange = append(strange, &unusual.Problems[i])
		}
		model.Errors = details(ctx, strange)
	case errors.As(err, &kept):
		slog.ErrorContext(ctx, "the answer of a kept write failed", "error", kept.Err)
		model.Status, model.Type, model.Detail = http.StatusInternalServerError, KeptType, "this is kept, but the page could not be made anew: look again in a moment"
	case errors.Is(err, store.ErrUnknown):
		slog.ErrorContext(ctx, "unknown outcome", "error", err)
		model.Status, model.Type = http.StatusServiceUnavailable, UnknownType
		model.Detail = "we do not know whether it arrived: it may have been kept. Send the same again: it will not count twice"
	case errors.Is(err, farm.ErrFull):
		slog.ErrorContext(ctx, "database full", "error", err)
		model.Status, model.Detail = http.StatusInsufficientStorage, "the disk of the database is full: nothing was changed. Fjell goes on by itself once there is room"
	case errors.Is(err, store.ErrGone), store.Lost(err):
		slog.ErrorContext(ctx, "database gone", "error", err)
		model.Status, model.Detail = http.StatusServiceUnavailable, "the database does not answer: nothing was changed, try again in a moment"
	case errors.Is(err, farm.ErrBusy):
		model.Status = http.StatusServiceUnavailable
	case errors.As(err, &changed):
		model.Status = http.StatusPreconditionFailed
		model.Errors = []*huma.ErrorDetail{{Location: "header.If-Match", Message: "seen version", Value: changed.Yours},
			{Location: "stored", Message: "stored version", Value: map[string]any{"version": changed.Stored, "record": changed.Record}}}
	case errors.Is(err, farm.ErrNotFound), errors.Is(err, farm.ErrStranger), errors.Is(err, ground.ErrNoTile):
		model.Status = http.StatusNotFound
	case errors.Is(err, farm.ErrLink):
		model.Status = http.StatusGone
	case errors.Is(err, farm.ErrForbidden):
		model.Status = http.StatusForbidden
	case errors.Is(err, farm.ErrSignIn), errors.Is(err, walk.ErrToken):
		model.Status = http.StatusUnauthorized
	case errors.As(err, &waits):
		model.Status = http.StatusTooManyRequests
	case errors.Is(err, farm.ErrSameID), errors.Is(err, farm.ErrStep), errors.Is(err, farm.ErrClockRuns):
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

// details are the first of many problems, said in the farm's units.
func details(ctx context.Context, problems quantity.Problems) []*huma.ErrorDetail {
	var out []*huma.ErrorDetail
	for _, p := range problems[:min(len(problems), mostErrors)] {
		said := p.In(units(ctx))
		out = append(out, &huma.ErrorDetail{Location: "body." + said.Field, Message: clipped(said.Message), Value: shown(said.Field, said.Came)})
	}
	return out
}

// writeProblem answers with a problem document, its errors included.
func (s *Server) writeProblem(ctx huma.Context, p *huma.ErrorModel) {
	ctx.SetHeader("Content-Type", "application/problem+json")
	ctx.SetStatus(p.Status)
	_ = json.NewEncoder(ctx.BodyWriter()).Encode(p)
}

// writeModel answers with a problem document where there is no route yet.
func writeModel(w http.ResponseWriter, p *huma.ErrorModel) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}

// jsonFormat writes an answer only once all of it could be written: what cannot be, such as a figure that is not a
// number, is a fault of ours and says so, instead of half an answer that looks right.
var jsonFormat = huma.Format{
	Marshal: func(w io.Writer, v any) error {
		raw, err := json.Marshal(v)
		if err != nil {
			slog.Error("an answer cannot be written", "error", err)
			if out, ok := w.(gin.ResponseWriter); ok && !out.Written() {
				out.Header().Set("Content-Type", "application/problem+json")
				out.Header().Del("ETag")
				out.WriteHeader(http.StatusInternalServerError)
			}
			raw, _ = json.Marshal(&huma.ErrorModel{Status: http.StatusInternalServerError, Title: http.StatusText(http.StatusInternalServerError),
				Detail: "something went wrong on our side: this page holds a figure that is none"})
		}
		_, err = w.Write(append(raw, '\n'))
		return err
	},
	Unmarshal: json.Unmarshal,
}
