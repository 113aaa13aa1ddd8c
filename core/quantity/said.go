package quantity

import (
	"fmt"
	"strconv"
	"strings"
)

// Said is a figure inside a sentence. The sentence reads in metric until somebody asks for it in another system.
type Said struct {
	Value float64 // as it is stored
	Unit  Unit
}

func (s Said) String() string { return s.In(Metric) }

// In is the figure with its unit as a system shows it.
func (s Said) In(system System) string {
	scale := scales[s.Unit][0]
	digits := 7
	if system == Imperial {
		scale, digits = scales[s.Unit][1], 4 // what was round in metric is not so any more
	}
	text := strconv.FormatFloat(scale.Show(s.Value), 'g', digits, 64)
	if v, err := strconv.ParseFloat(text, 64); err == nil && v > -1e9 && v < 1e9 {
		text = strconv.FormatFloat(v, 'f', -1, 64) // nobody reads 1.984e+04 pounds
	}
	return strings.TrimSpace(text + " " + scale.Symbol)
}

// Refuse makes the Problem for a field from a sentence and the offending value; figures of the sentence that have a unit, and the
// value where it has one, are Said.
func Refuse(field string, came any, format string, args ...any) *Problem {
	text := ""
	switch v := came.(type) {
	case nil:
	case Said:
		text = v.String()
	case float64:
		text = strconv.FormatFloat(v, 'g', 6, 64)
	case string:
		text = strconv.Quote(v)
	default:
		text = fmt.Sprint(v)
	}
	return &Problem{Field: field, Message: fmt.Sprintf(format, args...), Came: text, came: came, format: format, args: args}
}

// In is the problem as a system says it.
func (p Problem) In(system System) Problem {
	if system != Imperial || p.format == "" {
		return p
	}
	args := make([]any, len(p.args))
	for i, a := range p.args {
		if args[i] = a; args[i] != nil {
			if s, ok := a.(Said); ok {
				args[i] = s.In(system)
			}
		}
	}
	p.Message = fmt.Sprintf(p.format, args...)
	if s, ok := p.came.(Said); ok {
		p.Came = s.In(system)
	}
	return p
}
