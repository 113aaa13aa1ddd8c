// Package working carries the steps behind a figure, so that every number a person acts on can be followed.
package working

import (
	"math"
	"strconv"
	"strings"

	"fjell/core/quantity"
)

// Term is one symbol of a formula with the number that was put in its place.
type Term struct {
	Symbol string        `json:"symbol"`
	Name   string        `json:"name"`
	Value  float64       `json:"value"`
	Unit   quantity.Unit `json:"unit"`
}

// Step is one line of working: what is found, the formula in symbols, the formula filled in, and the result.
// Filled is in metric; a reader in other units refills Formula from Terms.
type Step struct {
	Label   string        `json:"label"`
	Formula string        `json:"formula"`
	Filled  string        `json:"filled"`
	Terms   []Term        `json:"terms"`
	Value   float64       `json:"value"`
	Unit    quantity.Unit `json:"unit"`
}

// New builds a Step. Formula is written with blanks between its parts; parts that equal a Term's symbol are
// filled with that term's number and unit.
func New(label, formula string, value float64, unit quantity.Unit, terms ...Term) Step {
	if terms == nil {
		terms = []Term{}
	}
	parts := strings.Fields(formula)
	for i, part := range parts {
		for _, t := range terms {
			if part == t.Symbol {
				parts[i] = t.Show()
			}
		}
	}
	return Step{label, formula, strings.Join(parts, " "), terms, value, unit}
}

// T is shorthand for a Term.
func T(symbol, name string, value float64, unit quantity.Unit) Term {
	return Term{symbol, name, value, unit}
}

// Show is the term's number in metric, with its unit.
func (t Term) Show() string {
	scale, err := quantity.ScaleOf(t.Unit, quantity.Metric)
	if err != nil {
		return strconv.FormatFloat(t.Value, 'g', 6, 64)
	}
	v := scale.Show(t.Value)
	if math.Abs(v) >= 1000 {
		v = math.Round(v)
	}
	return strings.TrimSpace(strconv.FormatFloat(v, 'g', 6, 64) + " " + scale.Symbol)
}

// Figure is a number people act on, with its unit, its working and where its inputs came from.
type Figure struct {
	Value  float64       `json:"value"`
	Unit   quantity.Unit `json:"unit"`
	Steps  []Step        `json:"steps"`
	Source string        `json:"source,omitempty"`
}

// Of makes a Figure whose value and unit are those of its last step.
func Of(source string, steps ...Step) Figure {
	last := steps[len(steps)-1]
	return Figure{last.Value, last.Unit, steps, source}
}
