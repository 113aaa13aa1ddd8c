package quantity

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
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

// Within says of what refused a part where in the whole the part stands; other errors are as they were.
func Within(whole string, err error) error {
	var p *Problem
	if !errors.As(err, &p) {
		return err
	}
	in := *p
	in.Field = whole + "." + p.Field
	return &in
}

// Problems are several figures that were refused together, in the order in which they were asked for.
type Problems []*Problem

func (ps Problems) Error() string {
	said := make([]string, len(ps))
	for i, p := range ps {
		said[i] = p.Error()
	}
	return strings.Join(said, "; ")
}

// Unwrap gives the problems one by one: who asks for one of them gets the first.
func (ps Problems) Unwrap() []error {
	out := make([]error, len(ps))
	for i, p := range ps {
		out[i] = p
	}
	return out
}

// Err is the problems as an error: nil when there are none, the problem itself when it is alone.
func (ps Problems) Err() error {
	switch len(ps) {
	case 0:
		return nil
	case 1:
		return ps[0]
	}
	return ps
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

// CheckJSON judges every number of a JSON document whose key has a band, however deep it stands, in the order of the
// document. Its error is every impossible figure; the unusual ones are for reading back.
func CheckJSON(raw []byte) (unusual []Problem, err error) {
	w := bandWalk{dec: json.NewDecoder(bytes.NewReader(raw))}
	if err := w.value("", ""); err != nil {
		return nil, Refuse("body", nil, "this is not readable JSON: %v", err)
	}
	if _, err := w.dec.Token(); !errors.Is(err, io.EOF) {
		return nil, Refuse("body", nil, "this is not readable JSON: something stands after its end")
	}
	return w.unusual, w.impossible.Err()
}

// bandWalk goes through a document.
type bandWalk struct {
	dec        *json.Decoder
	impossible Problems
	unusual    []Problem
}

// value judges what stands under key, at path.
func (w *bandWalk) value(path, key string) error {
	token, err := w.dec.Token()
	if err != nil {
		return err
	}
	switch v := token.(type) {
	case json.Delim:
		for i := 0; w.dec.More(); i++ {
			p, k := fmt.Sprintf("%s[%d]", path, i), key
			if v == '{' {
				token, err := w.dec.Token()
				if err != nil {
					return err
				}
				k = token.(string) // the decoder lets nothing else be a key
				if p = k; path != "" {
					p = path + "." + k
				}
			}
			if err := w.value(p, k); err != nil {
				return err
			}
		}
		_, err := w.dec.Token() // its end
		return err
	case float64:
		if band, ok := Bands[key]; ok {
			w.judge(band, path, v)
		}
	}
	return nil
}

func (w *bandWalk) judge(band Band, path string, v float64) {
	switch verdict, problem := band.Check(path, v); verdict {
	case Impossible:
		w.impossible = append(w.impossible, problem)
	case Unusual:
		w.unusual = append(w.unusual, *problem)
	}
}
