// Package answers is what a report is answered for a person: numbers, drawings, lists, what its conditions do, and why
// a record is in it or not. Everything that answers one request answers from one View.
package answers

import (
	"context"
	"log/slog"
	"runtime"
	"sync"
	"sync/atomic"
	"time"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/figures"
	"uzzel/core/schema"
	"uzzel/internal/aims"
	"uzzel/internal/inforce"
	"uzzel/internal/memo"
	"uzzel/internal/people"
	"uzzel/internal/store"
	"uzzel/internal/styles"
	"uzzel/internal/turns"
)

// Limits of one question; docs/limits.md lists them all.
const (
	QuestionTime   = 60 * time.Second
	questionValues = 4_000_000
	questionBytes  = 512 << 20
	cacheBytes     = 96 << 20
	slowRun        = time.Second // from when on a run is written down
)

// InForce are the settings that answers depend on.
type InForce struct {
	Sees    *inforce.Value[Sees]
	Looks   *inforce.Value[styles.Looks]
	Aims    *inforce.Value[aims.Set]
	Policy  *inforce.Value[people.Policy]
	Words   *inforce.Value[Words]
	Figures *inforce.Value[Figures]
}

// Answers answers everyone who is signed in.
type Answers struct {
	store *store.Store
	today func() int32
	log   *slog.Logger
	in    InForce
	// Ran is told of each run's outcome and how long it took; it may be nil.
	Ran func(outcome string, took time.Duration)

	memo   *memo.Memo[question]
	gate   *turns.Gate
	sights sights
	latest atomic.Pointer[column.Snapshot] // that a view was taken of
}

// New answers over a store's records. today is the organisation's day; log is written to.
func New(s *store.Store, today func() int32, log *slog.Logger, in InForce) *Answers {
	a := &Answers{store: s, today: today, log: log, in: in, gate: turns.New(runtime.GOMAXPROCS(0))}
	a.memo = memo.New(cacheBytes, QuestionTime, func(q question) bool { return q.snap.Whole() != s.Snapshot() })
	return a
}

// View is what one person sees at one moment: the records, who asks, which of them the person may see, how charts look,
// what is aimed at, and the day. It is taken once for a request.
type View struct {
	Who     people.Person
	Snap    *column.Snapshot
	Day     int32
	Sight   *engine.Sight
	Sees    map[string]engine.Sees // of the person; a type that is not in it is seen whole
	Looks   *styles.Looks
	Aims    *aims.Set
	Policy  *people.Policy
	Words   *Words
	Figures *Figures

	a    *Answers
	sees *Sees // as it was read: what answers are kept by
}

// View takes the view of a person.
func (a *Answers) View(who people.Person) *View {
	v := &View{
		Who:     who,
		Snap:    a.store.Snapshot().For(who.Rank()),
		Day:     a.today(),
		sees:    a.in.Sees.Now(),
		Looks:   a.in.Looks.Now(),
		Aims:    a.in.Aims.Now(),
		Policy:  a.in.Policy.Now(),
		Words:   a.in.Words.Now(),
		Figures: a.in.Figures.Now().For(who.ID),
		a:       a,
	}
	v.Sees = v.sees.Of(who)
	if whole := v.Snap.Whole(); a.latest.Swap(whole) != whole {
		a.memo.Forget() // what is kept is of older records
	}
	v.Sight = a.sights.of(v)
	return v
}

// Now is the person's view of what there is by now: for what is asked after something was changed.
func (v *View) Now() *View { return v.a.View(v.Who) }

// MayKeep says whether the person may keep reports: composers and administrators, and readers, of their own, where the
// organisation lets them.
func (v *View) MayKeep() bool { return v.Who.MayCompose() || v.Policy.ReadersKeep }

// sights keeps what people see of the records as they are now, so that it is looked up once.
type sights struct {
	mu   sync.Mutex
	snap *column.Snapshot
	sees *Sees
	by   map[seer]*engine.Sight
}

// seer is whoever sees: a person may be of another rank than a moment ago.
type seer struct {
	person int64
	rank   schema.Rank
}

func (s *sights) of(v *View) *engine.Sight {
	s.mu.Lock()
	defer s.mu.Unlock()
	if whole := v.Snap.Whole(); s.snap != whole || s.sees != v.sees || len(s.by) > 500 {
		s.snap, s.sees, s.by = whole, v.sees, map[seer]*engine.Sight{}
	}
	who := seer{v.Who.ID, v.Who.Rank()}
	if s.by[who] == nil {
		s.by[who] = engine.NewSight(v.Snap, v.Who.Key(), v.Sees)
	}
	return s.by[who]
}

// question is what a result depends on; two questions that are equal have the same answer.
type question struct {
	brief  string
	snap   *column.Snapshot
	day    int32
	reader int64
	sees   *Sees
	looks  *styles.Looks
	aims   *aims.Set
	form   figures.Form
	more   string
}

func (v *View) question(b *brief.Brief, more string) (question, error) {
	key, err := brief.Key(b)
	return question{key, v.Snap, v.Day, v.Who.ID, v.sees, v.Looks, v.Aims, v.Figures.Form, more}, err
}

// once gives what a question was answered, or works it out for all who ask it now.
func once[T any](
	ctx context.Context,
	v *View,
	q question,
	work func(ctx context.Context) (T, error),
	bytes func(T) int64,
) (T, error) {
	return memo.Get(
		ctx,
		v.a.memo,
		q,
		work,
		func(value T) int64 { return bytes(value) + int64(len(q.brief)+len(q.more)) + 400 },
	)
}

// Moment is this moment for people: the organisation's day, and the time in its zone.
func (v *View) Moment() string {
	return v.Figures.Form.Day(v.Day) + v.a.store.Now().In(v.Snap.Cal.Zone).Format(", 15:04")
}

// At is a moment for people, in seconds since 1970: its day and time; "" for 0.
func (v *View) At(at int64) string {
	if at == 0 {
		return ""
	}
	return v.Figures.Form.Day(v.Snap.Cal.DayOf(at)) + ", " + v.Clock(at)
}

// Clock is the time of a moment in the organisation's zone.
func (v *View) Clock(at int64) string { return time.Unix(at, 0).In(v.Snap.Cal.Zone).Format("15:04") }

// Bind checks a brief; what is wrong comes back as brief.Problems.
func (v *View) Bind(b *brief.Brief) (*brief.Bound, error) { return brief.Bind(b, v.Snap.Schema) }

// Writer writes values for people: records by their names as the person sees them.
func (v *View) Writer() chart.Writer {
	w := v.PlainWriter()
	w.NameOf = v.Names()
	return w
}

// PlainWriter writes values, and no names of records.
func (v *View) PlainWriter() chart.Writer {
	return chart.Writer{
		Style:    &v.Looks.House,
		Styles:   v.Looks.ByKey,
		Currency: v.Snap.Schema.Settings.Currency,
		Cal:      v.Snap.Cal,
		Form:     v.Figures.Form,
	}
}

// Say is the sentence of a bound brief for the person: records that the person may not see are said by their number.
func (v *View) Say(b *brief.Bound) brief.Sentence {
	return brief.SayTo(b, v.Day, v.Names(), brief.Listener{Limited: v.Sight.Limited, Reads: !v.Who.MayCompose()})
}

// Names names the records that the person may see for sentences, and measures.
func (v *View) Names() brief.Names {
	return func(typ, id string) string {
		if typ == brief.Targets {
			if m := v.Aims.Measure(id); m != nil {
				return m.Name
			}
			return ""
		}
		return v.name(typ, id)
	}
}

// name is the name of a record that the person may see, told from others of that name that the person may see; "" where
// there is none.
func (v *View) name(typ, id string) string {
	return v.Snap.NameOf(typ, id, func(row int32) bool { return v.Sight.Sees(typ, row) })
}

// Scene is the view as targets are looked up from it.
func (v *View) Scene() aims.Scene {
	return aims.Scene{Snap: v.Snap, Who: v.Who, Sees: v.Sees, Day: v.Day, Set: v.Aims, Say: v.Say}
}
