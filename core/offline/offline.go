// Package offline is the part of core that runs where there is no signal: in the browser, compiled to WebAssembly. It
// takes and gives JSON, like the API, and names refused fields the same way.
package offline

import (
	"encoding/json"
	"errors"

	"fjell/core/grazing"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/core/reckon"
	"fjell/core/reference"
)

// Answer is what a call comes to: a value, or the problem that stopped it.
type Answer struct {
	Value   any      `json:"value,omitempty"`
	Problem *Problem `json:"problem,omitempty"`
}

// Problem is the field that was refused, and why.
type Problem struct {
	Field    string `json:"field"`
	Message  string `json:"message"`
	Imperial string `json:"message_imperial"` // the same where people think in pounds and acres
}

// Call does one thing by name: "sums" lists the pocket sums, "sum/<key>" does one, "measure" says what readings come to, "stay-or-move" answers at a gate, "look-back" says what was left means,
// "cover" says how much of a picture is leaf.
func Call(name string, body []byte) []byte {
	value, err := call(name, body)
	answer := Answer{Value: value}
	if err != nil {
		var p *quantity.Problem
		if !errors.As(err, &p) {
			p = quantity.Refuse("body", nil, "%v", err)
		}
		answer = Answer{Problem: &Problem{p.Field, p.Message, p.In(quantity.Imperial).Message}}
	}
	raw, err := json.Marshal(answer)
	if err != nil { // a figure that JSON cannot carry
		raw, _ = json.Marshal(Answer{Problem: &Problem{"body", err.Error(), err.Error()}})
	}
	return raw
}

func call(name string, body []byte) (any, error) {
	switch name {
	case "sums":
		return reckon.Sums(), nil
	case "measure":
		var in measuring.Input
		if err := json.Unmarshal(body, &in); err != nil {
			return nil, quantity.Refuse("body", nil, "this is not readable: %v", err)
		}
		sward, err := reference.Load().Sward(in.SwardID)
		if err != nil {
			return nil, err
		}
		return measuring.Of(in, sward)
	case "stay-or-move":
		return asked(body, grazing.StayOrMove)
	case "look-back":
		return asked(body, grazing.LookBack)
	case "passage":
		return asked(body, grazing.Passage)
	case "tallies":
		return asked(body, grazing.Tallies)
	case "cover":
		return asked(body, measuring.Cover)
	}
	const sum = "sum/"
	if len(name) > len(sum) && name[:len(sum)] == sum {
		s, err := reckon.Find(name[len(sum):])
		if err != nil {
			return nil, err
		}
		return s.Run(body)
	}
	return nil, quantity.Refuse("name", name, "is nothing that can be done here")
}

// asked reads what a rule asks, and has it answer.
func asked[In, Out any](body []byte, answer func(In) (Out, error)) (any, error) {
	var in In
	if err := json.Unmarshal(body, &in); err != nil {
		return nil, quantity.Refuse("body", nil, "this is not readable: %v", err)
	}
	return answer(in)
}
