package farm

import (
	"container/list"
	"context"
	"errors"
	"sync"
	"time"

	"gorm.io/gorm"

	"fjell/internal/store"
)

// What a farm has on record is loaded once for a version of its facts and a day, and shared from then on by everything
// that reads; nobody writes to it. The version is the row's in the database, raised by every write, so any number of
// processes can do the same without asking one another.

// factsKey names one state of a farm.
type factsKey struct {
	farm    string
	version int64
	day     store.Day
}

// factsOf are the facts of one state, once they are there.
type factsOf struct {
	key     factsKey
	ready   chan struct{}
	picture *picture
	err     error

	before *factsOf // of an earlier state, until a season was made of these

	mu      sync.Mutex
	seasons map[time.Time]*season // by the moment they are worked out for
}

// bearing are the parts that a season rests on.
var bearing = []store.Part{store.LandPart, store.WalksPart, store.MovesPart, store.StockPart, store.PlanPart, store.HerdPart, store.WeatherPart}

// onward is the season of an earlier state at a moment, if nothing it rests on was written since.
func (f *factsOf) onward(p *picture, at time.Time) (*season, error) {
	if f == nil || f.picture == nil {
		return nil, nil
	}
	for _, part := range bearing {
		if f.picture.row.Parts.V[part] != p.row.Parts.V[part] {
			return nil, nil
		}
	}
	f.mu.Lock()
	se, ok := f.seasons[at]
	f.mu.Unlock()
	if !ok {
		return nil, nil
	}
	next := *se // what it works out once goes on being shared
	next.picture = p.as(at)
	return &next, nil
}

// library keeps the facts that were used last. The zero value is ready.
type library struct {
	mu    sync.Mutex
	byKey map[factsKey]*list.Element
	used  *list.List // of *factsOf, the latest first
	rows  int
}

// mostRows is how many records the facts of all farms together may hold in one process: about 200 MB of them.
const mostRows = 400_000

// seasonsKept is how many moments of one state are kept.
const seasonsKept = 4

// get returns the facts of a state, loading them at most once at a time.
func (l *library) get(ctx context.Context, key factsKey, load func() (*picture, error)) (*factsOf, error) {
	for {
		l.mu.Lock()
		if l.byKey == nil {
			l.byKey, l.used = map[factsKey]*list.Element{}, list.New()
		}
		if at, ok := l.byKey[key]; ok {
			f := at.Value.(*factsOf)
			l.used.MoveToFront(at)
			l.mu.Unlock()
			select {
			case <-f.ready:
			case <-ctx.Done():
				return nil, ctx.Err()
			}
			if f.err == nil {
				return f, nil
			}
			if ctx.Err() != nil || !errors.Is(f.err, context.Canceled) && !errors.Is(f.err, context.DeadlineExceeded) {
				return nil, f.err
			}
			continue // who was loading gave up: somebody else does it
		}
		f := &factsOf{key: key, ready: make(chan struct{}), seasons: map[time.Time]*season{}, before: l.earlierOf(key)}
		at := l.used.PushFront(f)
		l.byKey[key] = at
		l.mu.Unlock()

		f.picture, f.err = load()
		l.mu.Lock()
		if f.err != nil {
			l.drop(at)
		} else {
			l.rows += f.picture.rows()
			l.makeRoom(key)
		}
		l.mu.Unlock()
		close(f.ready)
		return f, f.err
	}
}

// have returns the facts of a state if they are there already.
func (l *library) have(key factsKey) *factsOf {
	l.mu.Lock()
	defer l.mu.Unlock()
	at, ok := l.byKey[key]
	if !ok {
		return nil
	}
	f := at.Value.(*factsOf)
	select {
	case <-f.ready:
		if f.err == nil {
			l.used.MoveToFront(at)
			return f
		}
	default:
	}
	return nil
}

// put keeps a picture that was loaded otherwise.
func (l *library) put(key factsKey, p *picture) *factsOf {
	f := &factsOf{key: key, ready: make(chan struct{}), picture: p, seasons: map[time.Time]*season{}}
	close(f.ready)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.byKey == nil {
		l.byKey, l.used = map[factsKey]*list.Element{}, list.New()
	}
	if _, there := l.byKey[key]; !there {
		f.before = l.earlierOf(key)
		l.byKey[key] = l.used.PushFront(f)
		l.rows += p.rows()
		l.makeRoom(key)
	}
	return f
}

// latest is a picture of the same farm and day that is there already, whatever its version.
func (l *library) latest(key factsKey) *picture {
	if f := l.earlier(key); f != nil {
		return f.picture
	}
	return nil
}

func (l *library) earlier(key factsKey) *factsOf {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.earlierOf(key)
}

func (l *library) earlierOf(key factsKey) *factsOf {
	if l.used == nil {
		return nil
	}
	var best *factsOf
	for at := l.used.Front(); at != nil; at = at.Next() {
		f := at.Value.(*factsOf)
		if f.key.farm != key.farm || f.key.day != key.day || f.key.version >= key.version {
			continue
		}
		select {
		case <-f.ready:
			if f.err == nil && (best == nil || f.key.version > best.key.version) {
				best = f
			}
		default:
		}
	}
	return best
}

// makeRoom forgets older states of the same farm, and what was not used for longest.
func (l *library) makeRoom(fresh factsKey) {
	kept := 0
	for at := l.used.Front(); at != nil; {
		next := at.Next()
		f := at.Value.(*factsOf)
		if f.key.farm == fresh.farm && f.picture != nil {
			if kept++; kept > 2 {
				l.drop(at)
			}
		}
		at = next
	}
	for at := l.used.Back(); at != nil && l.rows > mostRows && at != l.used.Front(); at = l.used.Back() {
		l.drop(at)
	}
}

func (l *library) drop(at *list.Element) {
	f := at.Value.(*factsOf)
	if l.byKey[f.key] == at {
		delete(l.byKey, f.key)
		l.used.Remove(at)
		if f.picture != nil {
			l.rows -= f.picture.rows()
		}
	}
}

// rows is how many records a picture holds.
func (p *picture) rows() int {
	return 100 + len(p.measured) + len(p.moves) + len(p.events) + 10*len(p.paddocks) + 10*len(p.fields) + len(p.weatherFrom)
}

// slot is how long a page of a running clock stays what it is while nobody writes anything down.
const slot = 5 * time.Minute

// moment is the time for which a picture is worked out: the present one in steps of a slot, but never before the
// latest thing on record. A held clock has no slots.
func (p *picture) moment(now time.Time, held bool) time.Time {
	if held {
		return now
	}
	at := now.Truncate(slot)
	for _, latest := range []time.Time{p.lastMeasured(), p.lastMoved()} {
		if latest.After(at) && !latest.After(now.Add(time.Minute)) {
			at = latest
		}
	}
	return at
}

func (p *picture) lastMeasured() time.Time {
	if k := len(p.measured) - 1; k >= 0 {
		return p.measured[k].MeasuredAt
	}
	return time.Time{}
}

func (p *picture) lastMoved() time.Time {
	if k := len(p.moves) - 1; k >= 0 {
		return p.moves[k].MovedAt
	}
	return time.Time{}
}

// facts are what is on record of a farm now. Layouts whose day has come take over first, and the stand-in station,
// where there is one, writes down the days up to now.
func (s *Service) facts(ctx context.Context, a Actor) (*factsOf, time.Time, error) {
	for range 4 {
		row, now, err := s.stand(s.DB.WithContext(ctx), a.FarmID)
		if err != nil {
			return nil, now, err
		}
		loc, err := time.LoadLocation(row.TimeZone)
		if err != nil {
			loc = time.UTC
		}
		key := factsKey{a.FarmID, row.FactsVersion, store.DayOf(now, loc)}
		f, err := s.library.get(ctx, key, func() (p *picture, err error) {
			err = store.Snapshot(ctx, s.DB, func(tx *gorm.DB) error {
				row, now, err := s.stand(tx, a.FarmID)
				if err != nil {
					return err
				}
				p, err = pictureAt(tx, row, now, "", nil, s.library.latest(key))
				return err
			})
			return p, err
		})
		if err != nil {
			return nil, now, err
		}
		if at := (factsKey{a.FarmID, f.picture.row.FactsVersion, store.DayOf(f.picture.now, f.picture.loc)}); at != key {
			s.library.forget(key) // somebody wrote in between: what was loaded is of a later state, and kept as that
			f = s.library.put(at, f.picture)
		}
		done, err := s.catchUp(ctx, a, f.picture, now)
		if err != nil {
			return nil, now, err
		}
		if done {
			return f, now, nil
		}
	}
	return nil, time.Time{}, ErrBusy
}

func (l *library) forget(key factsKey) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if at, ok := l.byKey[key]; ok {
		l.drop(at)
	}
}

// stand is a farm's row and the present moment.
func (s *Service) stand(tx *gorm.DB, farmID string) (row store.Farm, now time.Time, err error) {
	if err = tx.First(&row, "id = ?", farmID).Error; err != nil {
		if errors.Is(err, gorm.ErrRecordNotFound) {
			err = ErrStranger
		}
		return row, now, err
	}
	now, err = s.Clock.at(tx)
	return row, now, err
}

// catchUp writes what the passing of days brings about. It is true when there was nothing to write.
func (s *Service) catchUp(ctx context.Context, a Actor, p *picture, now time.Time) (bool, error) {
	today := store.DayOf(now, p.loc)
	for _, f := range p.fields {
		for _, span := range f.spans {
			if !span.Carried && span.HoldsFrom <= today {
				return false, s.turnOver(ctx, a)
			}
		}
	}
	if p.stationDue(today) {
		return false, s.followStation(ctx, a)
	}
	return true, nil
}

// picture is the present picture of an actor's farm. It is shared: nothing may write to it.
func (s *Service) picture(ctx context.Context, a Actor) (*picture, error) {
	f, now, err := s.facts(ctx, a)
	if err != nil {
		return nil, err
	}
	return f.picture.as(f.picture.moment(now, s.Clock.Held())), nil
}

// season is the picture of an actor's farm with its past and its plan, each worked out once for a moment.
func (s *Service) season(ctx context.Context, a Actor) (*season, error) {
	f, now, err := s.facts(ctx, a)
	if err != nil {
		return nil, err
	}
	return f.season(f.picture.moment(now, s.Clock.Held()))
}

func (f *factsOf) season(at time.Time) (*season, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if se, ok := f.seasons[at]; ok {
		return se, nil
	}
	se, err := f.before.onward(f.picture, at)
	if se == nil && err == nil {
		se, err = f.picture.as(at).season()
	}
	if err != nil {
		return nil, err
	}
	for old := range f.seasons {
		if len(f.seasons) < seasonsKept {
			break
		}
		delete(f.seasons, old)
	}
	f.seasons[at] = se
	f.before = nil // earlier states are forgotten one by one, not kept as a chain
	return se, nil
}

// as is the picture seen at another moment of its day.
func (p *picture) as(at time.Time) *picture {
	q := *p
	q.now = at
	return &q
}

// own is a copy that a write may change.
func (p *picture) own() *picture {
	q := *p
	q.fields = append([]fieldRecord(nil), p.fields...)
	for i := range q.fields {
		f := &q.fields[i]
		f.exclusions, f.zones = f.exclusions[:len(f.exclusions):len(f.exclusions)], f.zones[:len(f.zones):len(f.zones)]
		f.layouts, f.spans = f.layouts[:len(f.layouts):len(f.layouts)], f.spans[:len(f.spans):len(f.spans)]
	}
	q.paddocks = append([]paddockRecord(nil), p.paddocks...)
	q.events, q.groups = p.events[:len(p.events):len(p.events)], append([]store.StockGroup(nil), p.groups...)
	q.marks = p.marks[:len(p.marks):len(p.marks)]
	q.byID = make(map[string]int, len(p.byID))
	for id, i := range p.byID {
		q.byID[id] = i
	}
	if p.plan != nil {
		plan := *p.plan
		q.plan = &plan
	}
	return &q
}
