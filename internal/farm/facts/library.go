package facts

import (
	"container/list"
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"time"

	"gorm.io/gorm"

	"fjell/internal/farm"
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

// State holds the facts of one state, once they are there.
type State struct {
	key     factsKey
	ready   chan struct{}
	Picture *Picture
	err     error

	before atomic.Pointer[State] // an earlier state, until something was worked out from these
	once   sync.Once
	shelf  any
}

// Shelf is where others keep what they work out from these facts; it goes with them.
func (f *State) Shelf(fresh func() any) any {
	f.once.Do(func() { f.shelf = fresh() })
	return f.shelf
}

// Before is a state of the same farm and day that came before this one, if it is still there; nil once Onward was said.
func (f *State) Before() *State { return f.before.Load() }

// Onward lets go of the state before, so that old ones are forgotten one by one and not kept as a chain.
func (f *State) Onward() { f.before.Store(nil) }

// library keeps the facts that were used last. The zero value is ready.
type library struct {
	mu    sync.Mutex
	byKey map[factsKey]*list.Element
	used  *list.List // of *factsOf, the latest first
	rows  int
}

// mostRows is how many records the facts of all farms together may hold in one process: about 200 MB of them.
const mostRows = 400_000

// get returns the facts of a state, loading them at most once at a time.
func (l *library) get(ctx context.Context, key factsKey, load func() (*Picture, error)) (*State, error) {
	for {
		l.mu.Lock()
		if l.byKey == nil {
			l.byKey, l.used = map[factsKey]*list.Element{}, list.New()
		}
		if at, ok := l.byKey[key]; ok {
			f := at.Value.(*State)
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
		f := &State{key: key, ready: make(chan struct{})}
		f.before.Store(l.earlierOf(key))
		at := l.used.PushFront(f)
		l.byKey[key] = at
		l.mu.Unlock()

		f.Picture, f.err = load()
		l.mu.Lock()
		if f.err != nil {
			l.drop(at)
		} else {
			l.rows += f.Picture.rows()
			l.makeRoom(key)
		}
		l.mu.Unlock()
		close(f.ready)
		return f, f.err
	}
}

// have returns the facts of a state if they are there already.
func (l *library) have(key factsKey) *State {
	l.mu.Lock()
	defer l.mu.Unlock()
	at, ok := l.byKey[key]
	if !ok {
		return nil
	}
	f := at.Value.(*State)
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
func (l *library) put(key factsKey, p *Picture) *State {
	f := &State{key: key, ready: make(chan struct{}), Picture: p}
	close(f.ready)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.byKey == nil {
		l.byKey, l.used = map[factsKey]*list.Element{}, list.New()
	}
	if _, there := l.byKey[key]; !there {
		f.before.Store(l.earlierOf(key))
		l.byKey[key] = l.used.PushFront(f)
		l.rows += p.rows()
		l.makeRoom(key)
	}
	return f
}

// latest is a picture of the same farm and day that is there already, whatever its version.
func (l *library) latest(key factsKey) *Picture {
	if f := l.earlier(key); f != nil {
		return f.Picture
	}
	return nil
}

func (l *library) earlier(key factsKey) *State {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.earlierOf(key)
}

func (l *library) earlierOf(key factsKey) *State {
	if l.used == nil {
		return nil
	}
	var best *State
	for at := l.used.Front(); at != nil; at = at.Next() {
		f := at.Value.(*State)
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
		f := at.Value.(*State)
		if f.key.farm == fresh.farm && f.Picture != nil {
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
	f := at.Value.(*State)
	if l.byKey[f.key] == at {
		delete(l.byKey, f.key)
		l.used.Remove(at)
		if f.Picture != nil {
			l.rows -= f.Picture.rows()
		}
	}
}

// rows is how many records a picture holds.
func (p *Picture) rows() int {
	return 100 + len(p.Measured) + len(p.Moves) + len(p.Events) + 10*len(p.Paddocks) + 10*len(p.Fields) + len(p.WeatherFrom)
}

// Moment is the time for which a picture is worked out: the present one in steps of a slot, but never before the
// latest thing on record. A held clock has no slots.
func (p *Picture) Moment(now time.Time, held bool) time.Time {
	if held {
		return now
	}
	at := now.Truncate(farm.Slot)
	for _, latest := range []time.Time{p.lastMeasured(), p.lastMoved()} {
		if latest.After(at) && !latest.After(now.Add(time.Minute)) {
			at = latest
		}
	}
	return at
}

func (p *Picture) lastMeasured() time.Time {
	if k := len(p.Measured) - 1; k >= 0 {
		return p.Measured[k].MeasuredAt
	}
	return time.Time{}
}

func (p *Picture) lastMoved() time.Time {
	if k := len(p.Moves) - 1; k >= 0 {
		return p.Moves[k].MovedAt
	}
	return time.Time{}
}

// Facts are what is on record of a farm now. Layouts whose day has come take over first, and the stand-in station,
// where there is one, writes down the days up to now.
func (s *Service) Facts(ctx context.Context, a farm.Actor) (*State, time.Time, error) {
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
		f, err := s.library.get(ctx, key, func() (p *Picture, err error) {
			err = store.Snapshot(ctx, s.DB, func(tx *gorm.DB) error {
				row, now, err := s.stand(tx, a.FarmID)
				if err != nil {
					return err
				}
				p, err = PictureAt(tx, row, now, "", nil, s.library.latest(key))
				return err
			})
			return p, err
		})
		if err != nil {
			return nil, now, err
		}
		if at := (factsKey{a.FarmID, f.Picture.Row.FactsVersion, store.DayOf(f.Picture.Now, f.Picture.Location)}); at != key {
			s.library.forget(key) // somebody wrote in between: what was loaded is of a later state, and kept as that
			f = s.library.put(at, f.Picture)
		}
		done, err := s.catchUp(ctx, a, f.Picture, now)
		if err != nil {
			return nil, now, err
		}
		if done {
			return f, now, nil
		}
	}
	return nil, time.Time{}, farm.ErrBusy
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
			err = farm.ErrStranger
		}
		return row, now, err
	}
	now, err = s.Clock.At(tx)
	return row, now, err
}

// catchUp writes what the passing of days brings about. It is true when there was nothing to write.
func (s *Service) catchUp(ctx context.Context, a farm.Actor, p *Picture, now time.Time) (bool, error) {
	today := store.DayOf(now, p.Location)
	for _, d := range s.Duties {
		if d.Due(p, today) {
			return false, d.Do(ctx, a)
		}
	}
	return true, nil
}

// Picture is the present picture of an actor's farm. It is shared: nothing may write to it.
func (s *Service) Picture(ctx context.Context, a farm.Actor) (*Picture, error) {
	f, now, err := s.Facts(ctx, a)
	if err != nil {
		return nil, err
	}
	return f.Picture.As(f.Picture.Moment(now, s.Clock.Held())), nil
}

// As is the picture seen at another moment of its day.
func (p *Picture) As(at time.Time) *Picture {
	q := *p
	q.Now = at
	return &q
}

// own is a copy that a write may change.
func (p *Picture) own() *Picture {
	q := *p
	q.Fields = append([]Field(nil), p.Fields...)
	for i := range q.Fields {
		f := &q.Fields[i]
		f.Exclusions, f.Zones = f.Exclusions[:len(f.Exclusions):len(f.Exclusions)], f.Zones[:len(f.Zones):len(f.Zones)]
		f.Layouts, f.Spans = f.Layouts[:len(f.Layouts):len(f.Layouts)], f.Spans[:len(f.Spans):len(f.Spans)]
	}
	q.Paddocks = append([]Paddock(nil), p.Paddocks...)
	q.Events, q.Groups = p.Events[:len(p.Events):len(p.Events)], append([]store.StockGroup(nil), p.Groups...)
	q.Marks = p.Marks[:len(p.Marks):len(p.Marks)]
	q.ByID = make(map[string]int, len(p.ByID))
	for id, i := range p.ByID {
		q.ByID[id] = i
	}
	if p.Plan != nil {
		plan := *p.Plan
		q.Plan = &plan
	}
	return &q
}
