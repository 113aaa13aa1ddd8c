// Package reckon is the list of pocket sums: each with a name, what it takes, what it answers and how to run it
// on JSON. The command line, the API and the web forms are all made from these descriptions.
package reckon

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"regexp"
	"slices"
	"sort"
	"strings"

	"fjell/core/quantity"
	"fjell/core/working"
)

// MostBytes is the largest input a sum reads.
const MostBytes = 4 << 20

// Field describes one value a sum takes or answers.
type Field struct {
	Key      string         `json:"key"`
	Label    string         `json:"label"`
	Type     string         `json:"type"` // number · numbers · text · yes_no · choice · group · groups
	Unit     quantity.Unit  `json:"unit"`
	Required bool           `json:"required"`
	Choices  []string       `json:"choices,omitempty"`
	For      []string       `json:"for,omitempty"` // variants in which the field counts; empty: in all
	Band     *quantity.Band `json:"band,omitempty"`
	Fields   []Field        `json:"fields,omitempty"`
}

// Sum is one pocket sum.
type Sum struct {
	Key      string   `json:"key"`
	Label    string   `json:"label"`
	Question string   `json:"question"`
	Unit     string   `json:"unit"` // unit of the first answer
	Variants []string `json:"variants,omitempty"`
	Takes    []Field  `json:"takes"`
	Answers  []Field  `json:"answers"`
	Example  any      `json:"example"`

	run func([]byte) (any, []working.Step, error)
}

// Result is an answer with its working and the figures to be read back.
type Result struct {
	Out     any                `json:"out"`
	Steps   []working.Step     `json:"steps"`
	Unusual []quantity.Problem `json:"unusual"`
}

// Sums lists every sum in working order: demand first, then mass, feed, and what follows from them.
func Sums() []Sum { return sums }

// Find returns a sum by key.
func Find(key string) (Sum, error) {
	for _, s := range sums {
		if s.Key == key {
			return s, nil
		}
	}
	keys := make([]string, len(sums))
	for i, s := range sums {
		keys[i] = s.Key
	}
	sort.Strings(keys)
	return Sum{}, quantity.Refuse("sum", key, "must be one of %s", strings.Join(keys, ", "))
}

// Run computes one answer from a JSON object. Impossible figures, wrong types, unknown and missing fields are
// refused by a *quantity.Problem that names field, limit and what came.
func (s Sum) Run(raw []byte) (Result, error) {
	unusual, err := quantity.CheckJSON(raw)
	var wrong quantity.Problems
	if err := collect(err, &wrong); err != nil {
		return Result{}, err
	}
	if err := collect(present("", raw, s.Takes), &wrong); err != nil {
		return Result{}, err
	}
	if err := inOrder(wrong, s.Takes).Err(); err != nil {
		return Result{}, err
	}
	out, steps, err := s.run(raw)
	if err != nil {
		return Result{}, err
	}
	if _, err := json.Marshal(out); err != nil {
		return Result{}, quantity.Refuse("answer", nil, "these figures have no finite answer")
	}
	if unusual == nil {
		unusual = []quantity.Problem{}
	}
	return Result{out, steps, unusual}, nil
}

// Stream reads an object or an array of objects and writes the answer or an array of answers.
// Unusual figures are written to notes, one a line. Nothing is written to w when any input is refused.
func (s Sum) Stream(r io.Reader, w, notes io.Writer) error {
	raw, err := io.ReadAll(io.LimitReader(r, MostBytes+1))
	if err != nil {
		return fmt.Errorf("read input: %w", err)
	}
	if len(raw) > MostBytes {
		return quantity.Refuse("body", nil, "input must be at most %d MB", MostBytes>>20)
	}
	raw = bytes.TrimSpace(raw)
	inputs := []json.RawMessage{raw}
	isArray := len(raw) > 0 && raw[0] == '['
	if isArray {
		if err := json.Unmarshal(raw, &inputs); err != nil {
			return quantity.Refuse("body", nil, "this is not readable JSON: %v", err)
		}
	}
	outs := make([]any, 0, len(inputs))
	for i, in := range inputs {
		res, err := s.Run(in)
		if err != nil {
			var p *quantity.Problem
			if isArray && errors.As(err, &p) {
				p.Field = fmt.Sprintf("[%d].%s", i, p.Field)
			}
			return err
		}
		for _, u := range res.Unusual {
			fmt.Fprintln(notes, "unusual:", u.Error())
		}
		outs = append(outs, res.Out)
	}
	enc := json.NewEncoder(w)
	if isArray {
		return enc.Encode(outs)
	}
	return enc.Encode(outs[0])
}

func define[In, Out any](key, label, question string, f func(In) (Out, []working.Step, error), example In) Sum {
	var in In
	var out Out
	s := Sum{Key: key, Label: label, Question: question, Takes: describe(reflect.TypeOf(in)),
		Answers: describe(reflect.TypeOf(out)), Example: example}
	for _, field := range s.Takes {
		if field.Type == "choice" {
			s.Variants = field.Choices
		}
	}
	for _, field := range s.Answers {
		if field.Type == "number" {
			s.Unit = string(field.Unit)
			break
		}
	}
	s.run = func(raw []byte) (any, []working.Step, error) {
		var in In
		dec := json.NewDecoder(bytes.NewReader(raw))
		dec.DisallowUnknownFields()
		if err := dec.Decode(&in); err != nil {
			return nil, nil, quantity.Unreadable(raw, err, "this sum")
		}
		out, steps, err := f(in)
		if err != nil {
			return nil, nil, err
		}
		return out, steps, nil
	}
	return s
}

// collect adds the problems of an error to those before; another error comes back.
func collect(err error, to *quantity.Problems) error {
	var many quantity.Problems
	var one *quantity.Problem
	switch {
	case errors.As(err, &many):
		*to = append(*to, many...)
	case errors.As(err, &one):
		if one.Field == "body" {
			return err
		}
		*to = append(*to, one)
	default:
		return err
	}
	return nil
}

// inOrder puts problems in the order in which the form asks.
func inOrder(wrong quantity.Problems, fields []Field) quantity.Problems {
	place := map[string]int{}
	for i, f := range fields {
		place[f.Key] = i
	}
	at := func(p *quantity.Problem) int { return place[firstWord.FindString(p.Field)] }
	slices.SortStableFunc(wrong, func(a, b *quantity.Problem) int { return at(a) - at(b) })
	return wrong
}

var firstWord = regexp.MustCompile(`^\w+`)

// answers holds label and unit of figures that only ever come out of a sum.
var answers = map[string]quantity.Band{
	"pasture_kg_dm_head_day":         {Label: "From pasture, a head", Unit: quantity.Intake},
	"canopy_cover":                   {Label: "Canopy cover", Unit: quantity.Share},
	"infective_earliest_days":        {Label: "First eggs infect, at the earliest", Unit: quantity.Day},
	"infective_typical_days":         {Label: "The bulk of them", Unit: quantity.Day},
	"longest_stay_days":              {Label: "Longest stay", Unit: quantity.Day},
	"shortest_return_days":           {Label: "Back not before", Unit: quantity.Day},
	"low_risk_return_days":           {Label: "Low risk for young stock from", Unit: quantity.Day},
	"area_per_move_ha":               {Label: "Ground of one move", Unit: quantity.Hectare},
	"area_needed_ha":                 {Label: "Ground they need", Unit: quantity.Hectare},
	"lasts_days":                     {Label: "The paddock lasts", Unit: quantity.Day},
	"strips":                         {Label: "Strips set ahead", Unit: quantity.Count},
	"feed_kg_dm_day":                 {Label: "That feeds, a day", Unit: quantity.Demand},
	"short_kg_dm_day":                {Label: "Missing, a day", Unit: quantity.Demand},
	"short_kg_dm":                    {Label: "Missing there", Unit: quantity.Kilogram},
	"water_l_day":                    {Label: "Water a day", Unit: quantity.Litre},
	"host":                           {Label: "Whose worms"},
	"head":                           {Label: "Animals", Unit: quantity.Head},
	"paddocks":                       {Label: "Paddocks", Unit: quantity.Count},
	"area_per_day_ha":                {Label: "Area a day", Unit: quantity.HectarePerDay},
	"length_m":                       {Label: "Fence travel", Unit: quantity.Metre},
	"other_days":                     {Label: "From the grass left instead", Unit: quantity.Day},
	"extra_days":                     {Label: "Extra rest for grazing deeper", Unit: quantity.Day},
	"first_grown_kg_dm_day":          {Label: "Grown for one of the first", Unit: quantity.Intake},
	"second_grown_kg_dm_day":         {Label: "Grown for one of the second", Unit: quantity.Intake},
	"second_per_first":               {Label: "Of those that graze as one of these", Unit: quantity.Ratio},
	"head_per_ha":                    {Label: "Stocking rate, animals", Unit: quantity.HeadPerHectare},
	"animal_units_per_ha":            {Label: "Stocking rate, animal units", Unit: quantity.AUPerHectare},
	"live_weight_kg_per_ha":          {Label: "Stocking rate, live weight", Unit: quantity.Density},
	"density_kg_per_ha":              {Label: "Stocking density now", Unit: quantity.Density},
	"by_height":                      {Label: "Use by height", Unit: quantity.Share},
	"by_weight":                      {Label: "Use by weight", Unit: quantity.Share},
	"over_limit":                     {Label: "Over the limit"},
	"farm_cover_kg_dm_ha":            {Label: "Average grass on the farm", Unit: quantity.ForageMass},
	"break_even_growth_kg_dm_ha_day": {Label: "Growth needed to keep up", Unit: quantity.Growth},
	"days_ahead":                     {Label: "Days ahead, without growth", Unit: quantity.Day},
	"area_in_rotation_ha":            {Label: "Area in the rotation", Unit: quantity.Hectare},
	"entry_target_kg_dm_ha":          {Label: "Turn-in grass aimed at", Unit: quantity.ForageMass},
	"target_kg_dm_ha":                {Label: "Target", Unit: quantity.ForageMass},
	"difference_kg_dm_ha":            {Label: "Above or below", Unit: quantity.ForageMass},
	"difference_kg_dm":               {Label: "Above or below, in the paddock", Unit: quantity.Kilogram},
	"balance_kg_dm":                  {Label: "Balance", Unit: quantity.Kilogram},
	"rows":                           {Label: "Paddock by paddock"},
	"n":                              {Label: "Counted", Unit: quantity.Count},
	"mean":                           {Label: "Mean"},
	"standard_deviation":             {Label: "Standard deviation"},
	"standard_error":                 {Label: "Standard error"},
	"ci95_low":                       {Label: "95 % interval from"},
	"ci95_high":                      {Label: "95 % interval to"},
	"readings_for_ten_percent":       {Label: "Readings for ± 10 %", Unit: quantity.Count},
	"outliers":                       {Label: "Far from the rest (counted from 0)"},
	"r_squared":                      {Label: "R²"},
	"residual_standard_error_kg":     {Label: "A single reading lies within ±", Unit: quantity.ForageMass},
	"mean_difference":                {Label: "Mean difference"},
	"limit_low":                      {Label: "Limit of agreement, low"},
	"limit_high":                     {Label: "Limit of agreement, high"},
	"name":                           {Label: "Name"},
	"method":                         {Label: "Method"},
	"classes":                        {Label: "Kind by kind"},
}

func describe(t reflect.Type) []Field {
	var out []Field
	for i := 0; i < t.NumField(); i++ {
		sf := t.Field(i)
		key, options, _ := strings.Cut(sf.Tag.Get("json"), ",")
		if key == "-" {
			continue
		}
		f := Field{Key: key, Label: sf.Tag.Get("label"), Required: options != "omitempty"}
		if band, ok := quantity.Bands[key]; ok {
			f.Band, f.Unit = &band, band.Unit
			if f.Label == "" {
				f.Label = band.Label
			}
		} else if a, ok := answers[key]; ok {
			f.Unit = a.Unit
			if f.Label == "" {
				f.Label = a.Label
			}
		}
		if tag := sf.Tag.Get("for"); tag != "" {
			f.For = strings.Split(tag, ",")
		}
		ft := sf.Type
		if ft.Kind() == reflect.Pointer {
			ft = ft.Elem()
		}
		switch ft.Kind() {
		case reflect.Struct:
			f.Type, f.Fields = "group", describe(ft)
		case reflect.Slice:
			if ft.Elem().Kind() == reflect.Struct {
				f.Type, f.Fields = "groups", describe(ft.Elem())
			} else {
				f.Type = "numbers"
			}
		case reflect.Bool:
			f.Type = "yes_no"
		case reflect.String:
			f.Type = "text"
			if tag := sf.Tag.Get("variant"); tag != "" {
				f.Type, f.Choices = "choice", strings.Split(tag, ",")
			}
		default:
			f.Type = "number"
		}
		out = append(out, f)
	}
	return out
}

// present refuses a document in which required fields, or those its variant needs, are missing or null.
func present(path string, raw []byte, fields []Field) error {
	var doc map[string]json.RawMessage
	if err := json.Unmarshal(raw, &doc); err != nil || doc == nil {
		name := path
		if name == "" {
			name = "body"
		}
		return quantity.Refuse(name, nil, "must be an object with named fields")
	}
	variant := ""
	for _, f := range fields {
		if f.Type == "choice" {
			_ = json.Unmarshal(doc[f.Key], &variant)
		}
	}
	var wrong quantity.Problems
	for _, f := range fields {
		value, ok := doc[f.Key]
		missing := !ok || string(value) == "null"
		name := path + f.Key
		switch {
		case missing && (f.Required || contains(f.For, variant)):
			wrong = append(wrong, quantity.Refuse(name, nil, "%s is missing", f.Label))
		case missing:
		case len(f.For) > 0 && variant != "" && !contains(f.For, variant):
			wrong = append(wrong, quantity.Refuse(name, nil, "%s does not belong to the method %q: one deduction would be counted twice", f.Label, variant))
		default:
			if err := collect(within(name, value, f), &wrong); err != nil {
				return err
			}
		}
	}
	return wrong.Err()
}

// within refuses what is missing in a group or a list of groups.
func within(name string, value []byte, f Field) error {
	switch f.Type {
	case "group":
		return present(name+".", value, f.Fields)
	case "groups":
		var list []json.RawMessage
		if err := json.Unmarshal(value, &list); err != nil {
			return quantity.Refuse(name, nil, "must be a list")
		}
		var wrong quantity.Problems
		for i, item := range list {
			if err := collect(present(fmt.Sprintf("%s[%d].", name, i), item, f.Fields), &wrong); err != nil {
				return err
			}
		}
		return wrong.Err()
	}
	return nil
}

func contains(list []string, word string) bool {
	for _, w := range list {
		if w == word {
			return true
		}
	}
	return false
}
