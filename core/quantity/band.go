package quantity

import (
	"encoding/json"
	"fmt"
	"math"
	"sort"
	"strconv"
	"strings"
)

// Band says what a figure may be. Outside Least…Most it is impossible and refused; outside UsualLow…UsualHigh
// it is unusual: read back to the person, and taken when confirmed.
type Band struct {
	Label     string  `json:"label"`
	Unit      Unit    `json:"unit"`
	Least     float64 `json:"least"`
	UsualLow  float64 `json:"usual_low"`
	UsualHigh float64 `json:"usual_high"`
	Most      float64 `json:"most"`
	Reason    string  `json:"reason"`
	Whole     bool    `json:"whole,omitempty"`
	Above     bool    `json:"above_least,omitempty"` // Least itself is refused too
}

// Verdict of one figure against its band.
type Verdict int

// A figure is usual, unusual (ask) or impossible (refuse).
const (
	Usual Verdict = iota
	Unusual
	Impossible
)

// Problem is a figure that was refused, or is to be read back: the field, the limit and what came.
type Problem struct {
	Field   string `json:"field"`
	Message string `json:"message"`
	Came    string `json:"came"`
}

func (p *Problem) Error() string {
	if p.Came == "" {
		return p.Field + ": " + p.Message
	}
	return fmt.Sprintf("%s: %s; got %s", p.Field, p.Message, p.Came)
}

// MarshalText makes a Problem readable where an error is logged as text.
func (p *Problem) MarshalText() ([]byte, error) { return []byte(p.Error()), nil }

// Refuse makes the Problem for a field from a sentence and the offending value.
func Refuse(field string, came any, format string, args ...any) *Problem {
	text := ""
	switch v := came.(type) {
	case nil:
	case float64:
		text = strconv.FormatFloat(v, 'g', 6, 64)
	case string:
		text = strconv.Quote(v)
	default:
		text = fmt.Sprint(v)
	}
	return &Problem{field, fmt.Sprintf(format, args...), text}
}

// Check judges a value that stands in field against this band.
// The Problem is nil when the value is usual.
func (b Band) Check(field string, value float64) (Verdict, *Problem) {
	if math.IsNaN(value) || math.IsInf(value, 0) {
		return Impossible, Refuse(field, value, "%s must be a number", b.Label)
	}
	if b.Whole && value != math.Trunc(value) {
		return Impossible, Refuse(field, value, "%s must be a whole number", b.Label)
	}
	unit := scales[b.Unit][0]
	name := func(v float64) string {
		return strings.TrimSpace(strconv.FormatFloat(unit.Show(v), 'g', 7, 64) + " " + unit.Symbol)
	}
	if value < b.Least || value > b.Most || (b.Above && value == b.Least) {
		from := "between " + name(b.Least)
		if b.Above {
			from = "above " + name(b.Least)
		}
		join := " and "
		if b.Above {
			join = " and at most "
		}
		return Impossible, Refuse(field, value, "%s must be %s%s%s (%s)", b.Label, from, join, name(b.Most), b.Reason)
	}
	if value < b.UsualLow || value > b.UsualHigh {
		return Unusual, &Problem{field, fmt.Sprintf("%s of %s is unusual: %s to %s is common (%s)",
			b.Label, name(value), name(b.UsualLow), name(b.UsualHigh), b.Reason), strconv.FormatFloat(value, 'g', 6, 64)}
	}
	return Usual, nil
}

// CheckJSON judges every number of a decoded JSON document whose key has a band, however deep it stands.
// It returns the first impossible figure as an error and all unusual ones for reading back.
func CheckJSON(raw []byte) (unusual []Problem, err error) {
	var doc any
	if err := json.Unmarshal(raw, &doc); err != nil {
		return nil, Refuse("body", nil, "this is not readable JSON: %v", err)
	}
	return unusual, walk("", "", doc, &unusual)
}

func walk(path, key string, node any, unusual *[]Problem) error {
	switch v := node.(type) {
	case map[string]any:
		keys := make([]string, 0, len(v))
		for k := range v {
			keys = append(keys, k)
		}
		sort.Strings(keys) // of several wrong figures the same is named first each time
		for _, k := range keys {
			p, child := k, v[k]
			if path != "" {
				p = path + "." + k
			}
			if err := walk(p, k, child, unusual); err != nil {
				return err
			}
		}
	case []any:
		for i, child := range v {
			if err := walk(fmt.Sprintf("%s[%d]", path, i), key, child, unusual); err != nil {
				return err
			}
		}
	case float64:
		band, ok := Bands[key]
		if !ok {
			return nil
		}
		verdict, problem := band.Check(path, v)
		switch verdict {
		case Impossible:
			return problem
		case Unusual:
			*unusual = append(*unusual, *problem)
		}
	}
	return nil
}
