package quantity

import (
	"encoding/json"
	"fmt"
	"math"
	"sort"
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

	came   any // what Message and Came were made of, so that they can be said in other units
	format string
	args   []any
}

func (p *Problem) Error() string {
	if p.Came == "" {
		return p.Field + ": " + p.Message
	}
	return fmt.Sprintf("%s: %s; got %s", p.Field, p.Message, p.Came)
}

// MarshalText makes a Problem readable where an error is logged as text.
func (p *Problem) MarshalText() ([]byte, error) { return []byte(p.Error()), nil }

// Check judges a value that stands in field against this band.
// The Problem is nil when the value is usual.
func (b Band) Check(field string, value float64) (Verdict, *Problem) {
	if math.IsNaN(value) || math.IsInf(value, 0) {
		return Impossible, Refuse(field, value, "%s must be a number", b.Label)
	}
	if b.Whole && value != math.Trunc(value) {
		return Impossible, Refuse(field, value, "%s must be a whole number", b.Label)
	}
	said := func(v float64) Said { return Said{v, b.Unit} }
	if value < b.Least || value > b.Most || (b.Above && value == b.Least) {
		if b.Above {
			return Impossible, Refuse(field, said(value), "%s must be above %s and at most %s (%s)", b.Label, said(b.Least), said(b.Most), b.Reason)
		}
		return Impossible, Refuse(field, said(value), "%s must be between %s and %s (%s)", b.Label, said(b.Least), said(b.Most), b.Reason)
	}
	if value < b.UsualLow || value > b.UsualHigh {
		return Unusual, Refuse(field, said(value), "%s of %s is unusual: %s to %s is common (%s)", b.Label, said(value), said(b.UsualLow), said(b.UsualHigh), b.Reason)
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
