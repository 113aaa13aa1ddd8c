package quantity

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"regexp"
	"strings"
)

// Unreadable says in people's words why a piece of JSON could not be decoded: the field, what came, and what is asked for. of is
// what the fields belong to.
func Unreadable(raw []byte, err error, of string) *Problem {
	var wrong *json.UnmarshalTypeError
	if errors.As(err, &wrong) {
		field, came := wrong.Field, wrong.Value
		if field == "" {
			field = "body"
		}
		if came == "string" {
			came = fmt.Sprintf("“%s”", lastText(raw[:min(int(wrong.Offset), len(raw))]))
		}
		return Refuse(field, nil, "%s is not %s", came, kindOf(wrong.Type))
	}
	if text, ok := strings.CutPrefix(err.Error(), "json: unknown field "); ok {
		return Refuse(strings.Trim(text, `"`), nil, "is not a field of %s", of)
	}
	return Refuse("body", nil, "this is not readable JSON: %v", err)
}

// lastText is the text that a piece of JSON ends with.
func lastText(raw []byte) string {
	found := endText.FindSubmatch(raw)
	if found == nil {
		return ""
	}
	return string(found[1])
}

var endText = regexp.MustCompile(`"((?:[^"\\]|\\.)*)"\s*$`)

func kindOf(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Float64:
		return "a number"
	case reflect.Int, reflect.Int64:
		return "a whole number"
	case reflect.Bool:
		return "true or false"
	case reflect.Slice:
		return "a list"
	case reflect.Struct:
		return "an object"
	default:
		return "text"
	}
}
