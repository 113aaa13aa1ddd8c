package herd

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
)

// stockColumns are the usual heads of a stock list.
var stockColumns = map[string][]string{
	"mob":    {"mob", "group", "flock", "herd", "flokk"},
	"class":  {"class", "kind", "type", "category", "klasse"},
	"name":   {"name", "called", "navn"},
	"head":   {"head", "count", "number", "antall", "n"},
	"weight": {"live weight kg", "live weight lb", "live weight", "weight", "kg", "vekt"},
	"share":  {"intake share", "eats of weight", "intake"},
	"gain":   {"daily gain kg", "daily gain lb", "daily gain", "gain"},
}

// StockListInput is a stock list as CSV, with the columns a person chose.
type StockListInput struct {
	ID        string         `json:"id,omitempty"` // given when it is to be taken
	Text      string         `json:"text" maxLength:"4194304"`
	Columns   map[string]int `json:"columns,omitempty"`
	Units     exchange.Units `json:"units,omitempty" enum:",metric,imperial" doc:"of bare figures; a farm in imperial units is asked"`
	Confirmed bool           `json:"confirmed,omitempty"`
}

// StockListRow is a row that can be taken.
type StockListRow struct {
	Row    int        `json:"row"`
	Mob    string     `json:"mob"`
	Class  ClassInput `json:"class"`
	Known  bool       `json:"known"` // the mob has this class already: it is brought up to date
	Remark string     `json:"remark"`
}

// StockListView is what a list would do.
type StockListView struct {
	Heads   []string          `json:"heads" nullable:"false"`
	Columns map[string]int    `json:"columns" nullable:"false"`
	Rows    []StockListRow    `json:"rows" nullable:"false"`
	Bad     []exchange.BadRow `json:"bad" nullable:"false"`
	Mobs    int               `json:"mobs"`
	Head    float64           `json:"head"`
}

// ReadStockList says what a list would do. Nothing is written.
func (s *Service) ReadStockList(ctx context.Context, a farm.Actor, in StockListInput) (StockListView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return StockListView{}, err
	}
	return readStockList(ctx, p, in)
}

func readStockList(ctx context.Context, p *facts.Picture, in StockListInput) (StockListView, error) {
	table, err := exchange.ReadTable(ctx, []byte(in.Text))
	if err != nil {
		return StockListView{}, err
	}
	table.Units = in.Units.Or(quantity.System(p.Row.Units))
	v := StockListView{Heads: table.Heads, Columns: table.Columns(stockColumns), Rows: []StockListRow{}, Bad: []exchange.BadRow{}}
	for field, c := range in.Columns {
		if _, ok := stockColumns[field]; ok && c >= -1 && c < len(table.Heads) {
			v.Columns[field] = c
		}
	}
	for _, need := range []string{"class", "head"} {
		if v.Columns[need] < 0 {
			return v, nil // the person chooses the column first
		}
	}
	mobs := map[string]bool{}
	for i := range table.Rows {
		row, err := stockListRow(p, table, i, v.Columns)
		if err != nil {
			v.Bad = append(v.Bad, exchange.BadRow{Row: i + 1, Why: err.Error()})
			continue
		}
		mobs[row.Mob] = true
		v.Head += row.Class.Count
		v.Rows = append(v.Rows, row)
	}
	v.Mobs = len(mobs)
	return v, nil
}

func stockListRow(p *facts.Picture, table exchange.Table, i int, columns map[string]int) (StockListRow, error) {
	row := StockListRow{Row: i + 1, Mob: table.Text(i, columns["mob"])}
	if row.Mob == "" {
		row.Mob = "Stock"
	}
	if n := len([]rune(row.Mob)); n > 80 {
		return row, quantity.Refuse("mob", n, "a name has at most 80 letters")
	}
	ref, err := classNamed(p, table.Text(i, columns["class"]))
	if err != nil {
		return row, err
	}
	c := ClassInput{ReferenceID: ref.ID, Name: table.Text(i, columns["name"]), LiveWeight: ref.LiveWeight.Typical, IntakeShare: ref.IntakeShare.Typical, DailyGain: ref.DailyGain}
	if c.Name == "" {
		c.Name = ref.Name
	}
	for _, f := range []struct {
		field, band string
		unit        quantity.Unit
		to          *float64
		needed      bool
	}{
		{"head", "count", quantity.Head, &c.Count, true}, {"weight", "live_weight_kg", quantity.Kilogram, &c.LiveWeight, false},
		{"share", "intake_share", quantity.None, &c.IntakeShare, false}, {"gain", "daily_gain_kg", quantity.DailyGain, &c.DailyGain, false}} {
		v, ok, err := table.Figure(i, columns[f.field], f.unit)
		if err != nil {
			return row, err
		}
		if !ok {
			if f.needed {
				return row, quantity.Refuse(f.field, nil, "say how many head")
			}
			continue
		}
		if f.field == "share" && v > 0.2 { // a list says 2.3 for 2.3 %
			v /= 100
		}
		verdict, problem := quantity.Bands[f.band].Check(f.field, v)
		if verdict == quantity.Impossible {
			return row, problem
		}
		if verdict == quantity.Unusual {
			row.Remark = problem.Message
		}
		*f.to = v
	}
	if strange := unlike("", ref, c.LiveWeight, c.IntakeShare); len(strange) > 0 {
		row.Remark = strange[0].Message
	}
	for _, m := range p.Mobs {
		if !strings.EqualFold(m.Name, row.Mob) {
			continue
		}
		for _, g := range p.Groups {
			if g.MobID != nil && *g.MobID == m.ID && strings.EqualFold(g.Name, c.Name) {
				c.ID, row.Known = g.ID, true
			}
		}
	}
	row.Class = c
	return row, nil
}

// classNamed finds a class by its id or its name, the farm's own first.
func classNamed(p *facts.Picture, text string) (reference.StockClass, error) {
	plain := strings.ToLower(strings.TrimSpace(text))
	for _, own := range p.OwnClasses {
		if strings.ToLower(own.Name) == plain || own.ID == plain {
			return p.Class("class", own.ID)
		}
	}
	for _, c := range reference.Load().Classes {
		if c.ID == plain || strings.ToLower(c.Name) == plain || strings.ReplaceAll(c.ID, "_", " ") == plain {
			return c, nil
		}
	}
	return reference.StockClass{}, quantity.Refuse("class", text, "is not a class of the reference list or of this farm: write its name as the list of classes has it")
}

// TakeStockList makes the mobs of a list and brings those that are there up to date, all or nothing. Rows that cannot
// be taken are left out, as the preview said.
func (s *Service) TakeStockList(ctx context.Context, a farm.Actor, in StockListInput) ([]MobView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "stock list", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		list, err := readStockList(ctx, p, in)
		if err != nil {
			return err
		}
		if len(list.Rows) == 0 {
			return quantity.Refuse("text", nil, "no row of this list can be taken")
		}
		return takeStockList(p, tx.DB, a, list, in.Confirmed)
	})
	return farm.After(err, func() ([]MobView, error) { return s.Mobs(ctx, a) })
}

func takeStockList(p *facts.Picture, tx *gorm.DB, a farm.Actor, list StockListView, confirmed bool) error {
	var order []string
	byMob := map[string][]ClassInput{}
	for _, r := range list.Rows {
		key := strings.ToLower(r.Mob)
		if byMob[key] == nil {
			order = append(order, r.Mob)
		}
		byMob[key] = append(byMob[key], r.Class)
	}
	taken := marks(p, "")
	for _, mobName := range order {
		classes := byMob[strings.ToLower(mobName)]
		in := MobInput{Name: mobName, Classes: classes, FieldIDs: []string{}, Confirmed: confirmed}
		here := -1
		for i, m := range p.Mobs {
			if strings.EqualFold(m.Name, mobName) {
				here = i
			}
		}
		if here < 0 {
			in.Letter, in.Glyph = freeMark(taken, mobName)
			taken[in.Glyph+in.Letter] = mobName
			if err := makeMob(p, tx, a, NewMob{ID: farm.NewID(), MobInput: in}); err != nil {
				return err
			}
			continue
		}
		m := p.Mobs[here]
		in.Name, in.Letter, in.Glyph, in.FieldIDs = m.Name, m.Letter, m.Glyph, sortedKeys(m.Fields)
		listed := map[string]bool{}
		for _, c := range classes {
			listed[c.ID] = true
		}
		animals, ids := p.Herd.Mob(m.ID, p.Number(p.Now))
		for k, c := range animals { // classes that the list does not name stay as they are
			row := p.GroupRow(ids[k])
			if !listed[ids[k]] {
				in.Classes = append(in.Classes, ClassInput{ID: ids[k], ReferenceID: c.ReferenceID, Name: c.DisplayedName, Count: c.Count, LiveWeight: c.LiveWeightKg,
					IntakeShare: c.IntakeShare, DailyGain: c.DailyGainKg, Supplements: row.Supplements.V})
			}
		}
		for i := range in.Classes {
			if row := p.GroupRow(in.Classes[i].ID); row != nil {
				in.Classes[i].Supplements = row.Supplements.V
			}
		}
		if err := in.check(p); err != nil {
			return err
		}
		if err := in.checkCounts(p); err != nil {
			return err
		}
		if err := describe(p, tx, a, m.ID, in); err != nil {
			return err
		}
	}
	return nil
}

// StockList is the farm's stock today as CSV, as TakeStockList reads it.
func (s *Service) StockList(ctx context.Context, a farm.Actor) ([]byte, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	_ = w.Write([]string{"mob", "class", "name", "head", "live_weight_kg", "intake_share", "daily_gain_kg", "demand_kg_dm_day"})
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	lists := append([]facts.Mob(nil), p.Mobs...)
	lists = append(lists, facts.Mob{})
	for _, m := range lists {
		title := m.Name
		if m.ID == "" {
			title = "outside any mob"
		}
		for _, c := range p.Classes(m.ID) {
			if err := w.Write([]string{exchange.Cell(title), c.ReferenceID, exchange.Cell(c.DisplayedName), number(c.Count), fmt.Sprintf("%.1f", c.LiveWeightKg),
				fmt.Sprintf("%.4f", c.IntakeShare), number(c.DailyGainKg), fmt.Sprintf("%.1f", stock.Mob{c}.DemandOn(0))}); err != nil {
				return nil, err
			}
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}
