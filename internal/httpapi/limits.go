package httpapi

import (
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// What comes in is bounded before it is understood, and what goes back of it too: a small body must not cost much nor be
// answered with a large one.

// Limits of what one request may carry.
const (
	usualBody   = 256 << 10 // bytes
	smallBody   = 8 << 10   // sign-in and the like
	sumBody     = 64 << 10
	landBody    = 1 << 20 // shapes of fields
	outboxBody  = 512 << 10
	mostErrors  = 10
	mostShown   = 60 // letters of a refused value
	usualItems  = 2000
	shapeItems  = 50_000 // corners, fixes, readings of a line
	mostLetters = 8000
	// slowest is the poorest line Fjell waits for, bytes a second: 20 kbit/s.
	slowest = 2500
	// patientAtLeast is given to any body, however small.
	patientAtLeast = 10 * time.Second
)

// secrets are fields whose value is never repeated.
var secrets = []string{"password", "token", "authorization", "cookie", "content"}

// bounded is a problem document of at most ten errors, none of them long, none of them telling a secret.
func bounded(status int, detail string, errs ...error) *huma.ErrorModel {
	model := &huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: detail}
	for _, err := range errs {
		if err == nil {
			continue
		}
		if len(model.Errors) == mostErrors {
			model.Detail = detail + "; and more"
			break
		}
		one := &huma.ErrorDetail{Message: err.Error()}
		if d, ok := err.(huma.ErrorDetailer); ok {
			copied := *d.ErrorDetail()
			one = &copied
		}
		one.Location, one.Message, one.Value = clipped(one.Location), clipped(one.Message), shown(one.Location, one.Value)
		if kind, ok := strings.CutPrefix(one.Message, "expected "); ok && kinds[kind] != "" {
			one.Message = fmt.Sprintf("this is not %s", kinds[kind])
			if text, ok := one.Value.(string); ok {
				one.Message = fmt.Sprintf("“%s” is not %s", text, kinds[kind])
			}
		}
		model.Errors = append(model.Errors, one)
	}
	return model
}

// kinds are what a field takes, in people's words.
var kinds = map[string]string{"number": "a number", "integer": "a whole number", "boolean": "yes or no", "string": "text", "array": "a list", "object": "a group of fields"}

// shown is a refused value as far as it may be repeated.
func shown(location string, value any) any {
	for _, s := range secrets {
		if strings.Contains(strings.ToLower(location), s) {
			return nil
		}
	}
	switch v := value.(type) {
	case nil, bool, float64, int, int64:
		return v
	case string:
		return clipped(v)
	case map[string]any, []any, []byte:
		return nil // it was in what was sent, and may hold anything
	default:
		return clipped(fmt.Sprint(v))
	}
}

func clipped(text string) string {
	text = strings.ToValidUTF8(text, "?")
	if r := []rune(text); len(r) > 3*mostShown {
		return string(r[:3*mostShown]) + "…"
	}
	return text
}

func init() {
	// The library's own answers keep to the same bounds. Both are its settings for the whole process.
	huma.NewError = func(status int, detail string, errs ...error) huma.StatusError {
		return bounded(status, detail, errs...)
	}
	huma.ValidateStrictCasing = true
}

// room lets a route take a body of so many bytes.
func room(bytes int64) func(*huma.Operation) {
	return func(op *huma.Operation) { op.MaxBodyBytes = bytes }
}

// bound gives an operation its limits where it has none: of the body, and of the time it may take to come.
func bound(op *huma.Operation) {
	if op.MaxBodyBytes == 0 {
		op.MaxBodyBytes = usualBody
	}
	op.BodyReadTimeout = patientAtLeast + time.Duration(op.MaxBodyBytes/slowest)*time.Second
}

// boundItems gives the arrays and texts that requests may carry a largest size where none is said.
func boundItems(api huma.API) {
	components := api.OpenAPI().Components.Schemas
	seen := map[*huma.Schema]bool{}
	var walk func(s *huma.Schema)
	walk = func(s *huma.Schema) {
		if s == nil || seen[s] {
			return
		}
		seen[s] = true
		if s.Ref != "" {
			walk(components.SchemaFromRef(s.Ref))
			return
		}
		switch s.Type {
		case huma.TypeArray:
			if s.MaxItems == nil {
				most := usualItems
				if inner := s.Items; inner != nil && (inner.Type == huma.TypeArray || inner.Type == huma.TypeNumber) {
					most = shapeItems
				}
				s.MaxItems = &most
				s.PrecomputeMessages()
			}
			walk(s.Items)
		case huma.TypeString:
			if s.MaxLength == nil && s.Format == "" && len(s.Enum) == 0 && s.ContentEncoding == "" {
				most := mostLetters
				s.MaxLength = &most
				s.PrecomputeMessages()
			}
		}
		for _, p := range s.Properties {
			walk(p)
		}
	}
	for _, item := range api.OpenAPI().Paths {
		for _, op := range []*huma.Operation{item.Post, item.Put} {
			if op == nil || op.RequestBody == nil {
				continue
			}
			for _, media := range op.RequestBody.Content {
				walk(media.Schema)
			}
		}
	}
}
