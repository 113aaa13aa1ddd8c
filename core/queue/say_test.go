package queue_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/queue"
	"fjell/core/working"
)

// told is what a week says, its figures filled in to one decimal.
func told(list []grazing.Reason) string {
	var out []string
	for _, r := range list {
		text := r.Text
		for _, f := range r.Figures {
			text = strings.ReplaceAll(text, "{"+f.Symbol+"}", fmt.Sprintf("%.1f", f.Value))
		}
		out = append(out, text)
	}
	return strings.Join(out, ". ")
}

func figure(v float64) *working.Figure {
	f := working.Of("", working.New("f", "f", v, quantity.Day))
	return &f
}

func TestAWeekInWords(t *testing.T) {
	at := func(days float64) time.Time { return monday.Add(time.Duration(days * 24 * float64(time.Hour))) }
	gap := func(days, missing float64, paddocks ...int) queue.Gap {
		return queue.Gap{From: at(days), Until: at(days + 3), Days: missing, Kg: missing * 640, Paddocks: paddocks}
	}
	type week struct {
		growth, breakEven float64 // 0: not known
		masses            []float64
		gaps              []queue.Gap
		balance           float64
		length, advised   float64 // 0: not known
		grazed            int     // paddock that stock are in; -1: none
		still             bool    // nothing eats
	}
	fine := []float64{2000, 2000, 2000, 2000, 2000, 2000}
	old := func(n int) []float64 {
		out := append([]float64(nil), fine...)
		for i := range n {
			out[i] = 3200
		}
		return out
	}
	for i, x := range []struct {
		week
		says string // the whole of it
	}{
		// Growth against what they take.
		{week{growth: 64, breakEven: 51}, "Growth of 64.0 beats the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 40, breakEven: 51}, "Growth of 40.0 falls short of the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 51, breakEven: 51}, "Growth of 51.0 keeps pace with the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 56, breakEven: 51}, "Growth of 56.0 keeps pace with the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 56.2, breakEven: 51}, "Growth of 56.2 beats the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 46, breakEven: 51}, "Growth of 46.0 keeps pace with the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 45.8, breakEven: 51}, "Growth of 45.8 falls short of the 51.0 that they take. No gap opens in the next 8 weeks"},
		{week{growth: 64}, "No gap opens in the next 8 weeks"},
		{week{breakEven: 51}, "No gap opens in the next 8 weeks"},
		{week{growth: 0.5, breakEven: 20}, "Growth of 0.5 falls short of the 20.0 that they take. No gap opens in the next 8 weeks"},
		// What is past its best, by name.
		{week{masses: old(1)}, "P0 is past its best. No gap opens in the next 8 weeks"},
		{week{masses: old(2)}, "P0 and P1 are past their best. No gap opens in the next 8 weeks"},
		{week{masses: old(3)}, "P0, P1 and P2 are past their best. No gap opens in the next 8 weeks"},
		{week{masses: old(4)}, "P0, P1, P2 and P3 are past their best. No gap opens in the next 8 weeks"},
		{week{masses: old(5)}, "P0, P1, P2 and 2 more are past their best. No gap opens in the next 8 weeks"},
		{week{masses: old(6)}, "P0, P1, P2 and 3 more are past their best. No gap opens in the next 8 weeks"},
		{week{masses: []float64{3100, 2000}}, "No gap opens in the next 8 weeks"},
		{week{masses: []float64{3101, 2000}}, "P0 is past its best. No gap opens in the next 8 weeks"},
		{week{masses: old(1), grazed: 1}, "No gap opens in the next 8 weeks"}, // they are eating it
		{week{masses: old(1), grazed: 2}, "P0 is past its best. No gap opens in the next 8 weeks"},
		// Gaps: how large, when, where.
		{week{gaps: []queue.Gap{gap(21, 4, 3, 4)}}, "A gap of about 4.0 opens in the week of 29 June, when P3 and P4 come up"},
		{week{gaps: []queue.Gap{gap(21, 4, 3)}}, "A gap of about 4.0 opens in the week of 29 June, when P3 comes up"},
		{week{gaps: []queue.Gap{gap(21, 4)}}, "A gap of about 4.0 opens in the week of 29 June"},
		{week{gaps: []queue.Gap{gap(24, 4, 3)}}, "A gap of about 4.0 opens in the week of 29 June, when P3 comes up"}, // Thursday's week
		{week{gaps: []queue.Gap{gap(27.5, 4, 3)}}, "A gap of about 4.0 opens in the week of 29 June, when P3 comes up"},
		{week{gaps: []queue.Gap{gap(28, 4, 3)}}, "A gap of about 4.0 opens in the week of 6 July, when P3 comes up"},
		{week{gaps: []queue.Gap{gap(0, 2, 0)}}, "A gap of about 2.0 opens now, when P0 comes up"},
		{week{gaps: []queue.Gap{gap(0.9, 2, 0)}}, "A gap of about 2.0 opens now, when P0 comes up"},
		{week{gaps: []queue.Gap{gap(1, 2, 0)}}, "A gap of about 2.0 opens in the week of 8 June, when P0 comes up"},
		{week{gaps: []queue.Gap{gap(7, 2, 0), gap(35, 6, 1, 2, 3)}}, "A gap of about 2.0 opens in the week of 15 June, when P0 comes up. Another of 6.0 opens in the week of 13 July, when P1, P2 and P3 come up"},
		{week{gaps: []queue.Gap{gap(7, 2, 0), gap(20, 1, 1), gap(40, 9, 2)}}, "A gap of about 2.0 opens in the week of 15 June, when P0 comes up. Another of 1.0 opens in the week of 22 June, when P1 comes up"},
		// Above and below the marks, in days of feed.
		{week{balance: 640 * 5}, "No gap opens in the next 8 weeks. Together the paddocks stand 5.0 of feed above their marks: there is something to spare"},
		{week{balance: -640 * 3}, "No gap opens in the next 8 weeks. Together the paddocks stand 3.0 of feed below their marks"},
		{week{balance: 639}, "No gap opens in the next 8 weeks"},
		{week{balance: 640}, "No gap opens in the next 8 weeks. Together the paddocks stand 1.0 of feed above their marks: there is something to spare"},
		// The round.
		{week{length: 22, advised: 30}, "No gap opens in the next 8 weeks. Growth asks for a round of 30.0, you go round in 22.0: slow down"},
		{week{length: 22, advised: 17}, "No gap opens in the next 8 weeks. Growth would bear a round of 17.0, you go round in 22.0: grass gets old waiting"},
		{week{length: 22, advised: 25}, "No gap opens in the next 8 weeks"},
		{week{length: 22}, "No gap opens in the next 8 weeks"},
		// All of it at once, and nothing at all.
		{week{growth: 80, breakEven: 51, masses: old(2), gaps: []queue.Gap{gap(21, 4, 3, 4)}, balance: 640 * 2.5, length: 20, advised: 30},
			"Growth of 80.0 beats the 51.0 that they take. P0 and P1 are past their best. A gap of about 4.0 opens in the week of 29 June, when P3 and P4 come up. " +
				"Together the paddocks stand 2.5 of feed above their marks: there is something to spare. Growth asks for a round of 30.0, you go round in 20.0: slow down"},
		{week{still: true}, "Nothing eats here now: there is no target to stand at"},
		{week{masses: []float64{}}, "No open paddock is in this round"},
	} {
		if x.masses == nil {
			x.masses = fine
		}
		c := round(640, x.masses...)
		w := queue.Week{Demand: 640, Balance: x.balance, Entry: figure(2600)}
		if x.still {
			w.Demand = 0
		}
		for p := range x.masses {
			w.Rows = append(w.Rows, queue.Row{Paddock: p, TooOld: 3100, Grazed: p == x.grazed-1})
		}
		if x.length > 0 {
			w.Length = figure(x.length)
		}
		if x.advised > 0 {
			w.Advised = figure(x.advised)
		}
		seen := queue.Seen{Gaps: x.gaps}
		if x.growth > 0 {
			seen.Growth = &x.growth
		}
		if x.breakEven > 0 {
			seen.BreakEven = &x.breakEven
		}
		got := queue.Say(c, w, seen)
		assert.Equal(t, x.says, told(got), "case %d", i)
		for _, r := range got {
			for _, symbol := range regexp.MustCompile(`{(\w+)}`).FindAllStringSubmatch(r.Text, -1) {
				assert.Contains(t, fmt.Sprint(r.Figures), symbol[1], "every figure that is spoken of is there")
			}
		}
	}
}

// What levers do together is said by what becomes of the gap.
func TestWhatLeversDoIsSaid(t *testing.T) {
	says := func(c queue.Case, levers ...queue.Lever) string {
		tried, err := queue.Try(c, levers)
		assert.NoError(t, err)
		return told(tried.Says)
	}
	short := func() queue.Case { return round(900, 1700, 1900, 1800, 1700, 1600) }
	assert.Empty(t, says(usual()))
	assert.Contains(t, says(usual(), queue.Lever{Kind: queue.Close, Paddock: "p1", Days: 3}), "No gap in these eight weeks")
	assert.Contains(t, says(short(), queue.Lever{Kind: queue.Head, Mob: "m", Count: -20}), "shrinks from")
	assert.Contains(t, says(short(), queue.Lever{Kind: queue.Head, Mob: "m", Count: -70}), "closes")
	assert.Contains(t, says(short(), queue.Lever{Kind: queue.Head, Mob: "m", Count: 20}), "grows from")
	assert.Contains(t, says(short(), queue.Lever{Kind: queue.Pass, Paddock: "p4", Days: 1}), "gap")
	assert.Contains(t, says(usual(), queue.Lever{Kind: queue.Cut, Paddock: "p1"}), "lower than without")
	assert.Contains(t, says(usual(), queue.Lever{Kind: queue.Nitrogen, Paddock: "p2", Kg: 50}), "higher than without")
}
