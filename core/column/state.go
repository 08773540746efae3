package column

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"uzzel/core/schema"
)

// Mover is a source in which changes are now told of another record than they were of: records that were merged.
type Mover interface {
	// Moved gives each such change by its id, with the id of the record that it was of.
	Moved(ctx context.Context, each func(change, record string)) error
}

// states are how many states of days a snapshot keeps.
const states = 4

// past is what a snapshot of an earlier day is made from (docs/brief.md, "Over time").
type past struct {
	now *Snapshot
	mu  sync.Mutex // held while the history is read
	day int32
	end int64 // the first second after the day
	// back are the values that records had, by type and field: those of the earliest change since.
	back    map[string][]wasOf
	was     *Dict // of values
	records *Dict // of the ids of records
}

// wasOf is what a record had: codes of the history's dictionaries.
type wasOf struct {
	record int32
	was    int64
}

// origin says where each row of a table of a state comes from.
type origin struct {
	// from are rows of the table as it is now, or −1−n for row n of what was deleted; nil where all rows are those of now.
	from []int32
	gone *Table
	// at is where each row of now is in the state, −1 where it is not; nil where all are where they were.
	at []int32
}

// AsOf is the records as they were when a day ended, in the organisation's zone, from the history: their fields, links and
// which of them there were, those among them that were deleted since. Settings, people and teams are today's; what is
// worked out is worked out from then.
func (s *Snapshot) AsOf(day int32) (*Snapshot, error) {
	if s.whole != nil {
		return s.partAsOf(day)
	}
	if s.past != nil {
		return nil, fmt.Errorf("the state of a day has no states of other days")
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for i, kept := range s.then {
		if kept.past.day == day {
			s.then = append(slices.Delete(s.then, i, i+1), kept)
			return kept, nil
		}
	}
	p := &past{now: s, day: day, end: s.Cal.StartOf(day + 1)}
	state := &Snapshot{Schema: s.Schema, Cal: s.Cal, tables: map[string]*loading{}, past: p}
	if s.then = append(s.then, state); len(s.then) > states {
		s.then = slices.Delete(s.then, 0, 1)
	}
	return state, nil
}

// carried are the states that are the same once edits are made: those of days before all of the edits, as what is written
// into the history now is taken back by them. Edits of people and teams are in all states, and so are records that are
// said to be older than they are.
func (s *Snapshot) carried(edits []Edit) []*Snapshot {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.then) == 0 {
		return nil
	}
	for _, t := range s.Schema.Types { // what is not loaded yet would be read with the edits in it
		if l := s.tables[t.Key]; l == nil || l.table == nil {
			return nil
		}
	}
	var list []*Snapshot
	for _, state := range s.then {
		if !slices.ContainsFunc(edits, state.past.touchedBy) {
			list = append(list, state)
		}
	}
	return list
}

// touchedBy says whether an edit changes the state. Exchange rates are today's in all of them.
func (p *past) touchedBy(e Edit) bool {
	t := p.now.Schema.Type(e.Type)
	if t == nil || p.today(t) || t.Rates {
		return true
	}
	when := "created"
	if t.History {
		when = "at"
	}
	text, said := e.Values[when]
	if !e.New && !said {
		return t.History
	}
	at, err := p.now.Cal.ParseInstant(text)
	return err != nil || at < p.end
}

// partAsOf is the state of a snapshot that shows a part of the fields.
func (s *Snapshot) partAsOf(day int32) (*Snapshot, error) {
	then, err := s.whole.AsOf(day)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, kept := range s.then {
		if kept.whole == then {
			return kept, nil
		}
	}
	part := &Snapshot{Schema: s.Schema, Cal: s.Cal, whole: then}
	if s.then = append(s.then, part); len(s.then) > states {
		s.then = slices.Delete(s.then, 0, 1)
	}
	return part, nil
}

// Origin says where the row of a table of a state comes from: a row of the table as it is now, or one of what was deleted.
func (t *Table) Origin(row int32) (now, gone int32) {
	if t.origin == nil || t.origin.from == nil {
		return row, -1
	}
	if at := t.origin.from[row]; at < 0 {
		return -1, -1 - at
	}
	return t.origin.from[row], -1
}

// today says whether records of a type are today's in every state: people and teams.
func (p *past) today(t *schema.Type) bool {
	readers := p.now.Schema.Readers()
	return t == readers || (readers != nil && readers.Team != "" && t.Key == readers.Field(readers.Team).To)
}

// table makes the table of a type as it was.
func (s *Snapshot) asItWas(key string) (*Table, error) {
	p := s.past
	now, err := p.now.Table(key)
	if err != nil {
		return nil, err
	}
	t := &Table{Type: now.Type, N: now.N, IDs: now.IDs, many: map[string]*Many{}, links: map[int]*links{},
		cols: make([]*Column, len(now.Type.Fields)), origin: &origin{}}
	for i := range t.Type.Fields {
		if t.Type.Fields[i].Kind == schema.ID {
			t.cols[i] = now.cols[i]
		}
	}
	if p.today(now.Type) {
		return t, nil
	}
	if err := p.read(); err != nil {
		return nil, err
	}
	in, err := p.present(now)
	if err != nil {
		return nil, err
	}
	var gone *Table
	if !now.Type.History {
		if gone, err = p.now.Deleted(key); err != nil {
			return nil, err
		}
	}
	o := &origin{at: make([]int32, now.N)}
	next := int32(0) // of what was deleted
	there := p.goneThere(gone)
	takeGone := func(before func(id string) bool) {
		for ; gone != nil && next < int32(gone.N) && before(gone.IDs.At(next)); next++ {
			if there[next] && now.IDs.Row(gone.IDs.At(next)) < 0 {
				o.from = append(o.from, -1-next)
				o.gone = gone
			}
		}
	}
	for row := range int32(now.N) {
		if gone != nil && next < int32(gone.N) {
			id := now.IDs.At(row)
			takeGone(func(other string) bool { return LessID(other, id) })
		}
		o.at[row] = -1
		if in == nil || in[row] {
			o.at[row] = int32(len(o.from))
			o.from = append(o.from, row)
		}
	}
	takeGone(func(string) bool { return true })
	if o.gone == nil && len(o.from) == now.N {
		return t, nil // all rows are where they are now
	}
	t.origin, t.N = o, len(o.from)
	t.IDs = idsOf(now, gone, o.from)
	return t, nil
}

// idsOf are the ids of rows of a table and of what was deleted of it.
func idsOf(now, gone *Table, from []int32) *IDs {
	ids := &IDs{}
	plain := now.IDs.texts == nil && (gone == nil || gone.IDs.texts == nil)
	for row, at := range from {
		of := now.IDs
		if at < 0 {
			of, at = gone.IDs, -1-at
		}
		if plain {
			ids.nums = append(ids.nums, of.nums[at])
			continue
		}
		if ids.rows == nil {
			ids.texts, ids.rows = []string{}, map[string]int32{}
		}
		ids.texts = append(ids.texts, of.At(at))
		ids.rows[of.At(at)] = int32(row)
	}
	return ids
}

// read goes over the history once for what is to be taken back: what came at the end of the day or later.
func (p *past) read() error {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.back != nil {
		return nil
	}
	return p.takeBack()
}

func (p *past) takeBack() error {
	h := p.now.Schema.History()
	if h == nil {
		p.back = map[string][]wasOf{}
		return nil
	}
	table, err := p.now.Table(h.Key)
	if err != nil {
		return err
	}
	var cols [5]*Column
	var vals [5][]int64
	for i, key := range []string{"at", schema.HistoryType, schema.HistoryRecord, schema.HistoryField, "from"} {
		if cols[i], err = p.now.Column(h.Key, key); err != nil {
			return err
		}
		vals[i] = make([]int64, chunkSize)
	}
	at, types, records, fields, from := vals[0], vals[1], vals[2], vals[3], vals[4]
	p.records, p.was = cols[2].Dict, cols[4].Dict
	moved, err := p.now.movedChanges(table, p.records)
	if err != nil {
		return err
	}
	// By type and field: of each record, when the change came that counts, and what the value was before it.
	type earliest struct {
		at  []int64
		was []int64
	}
	found := map[[2]int64]*earliest{}
	marks, n := make([]bool, chunkSize), len(p.records.Values())
	for first := 0; first < table.N; first += chunkSize {
		some := marks[:min(chunkSize, table.N-first)]
		cols[0].Within(int32(first), p.end, 1<<62, some)
		if !slices.Contains(some, true) {
			continue
		}
		for i, c := range cols {
			c.Run(int32(first), vals[i][:len(some)])
		}
		for i, since := range some {
			if of, ok := moved[int32(first+i)]; ok {
				records[i] = of
			}
			if !since || types[i] == Null || records[i] == Null || fields[i] == Null {
				continue
			}
			key := [2]int64{types[i], fields[i]}
			e := found[key]
			if e == nil {
				e = &earliest{make([]int64, n), make([]int64, n)}
				for k := range e.at {
					e.at[k] = 1<<63 - 1
				}
				found[key] = e
			}
			// Of equal times the lower id came first; rows are in the order of ids.
			if at[i] < e.at[records[i]] {
				e.at[records[i]], e.was[records[i]] = at[i], from[i]
			}
		}
	}
	typeNames, names := cols[1].Dict.Values(), cols[3].Dict.Values()
	back := map[string][]wasOf{}
	for key, e := range found {
		name := typeNames[key[0]] + "." + names[key[1]]
		for record, at := range e.at {
			if at != 1<<63-1 {
				back[name] = append(back[name], wasOf{int32(record), e.was[record]})
			}
		}
	}
	p.back = back
	return nil
}

// movedChanges are the changes that were of another record than they are told of, by row of the history: the record's code.
func (s *Snapshot) movedChanges(history *Table, records *Dict) (map[int32]int64, error) {
	out := map[int32]int64{}
	mover, ok := s.source.(Mover)
	if !ok {
		return out, nil
	}
	return out, mover.Moved(context.Background(), func(change, record string) {
		if row := history.IDs.Row(change); row >= 0 {
			out[row] = int64(records.Code(record))
		}
	})
}

// text is what a code of the history's values stands for.
func (p *past) text(code int64) string {
	if code == Null {
		return ""
	}
	return p.was.Values()[code]
}

// present says which records of a type there were, of those that there are now; nil for all.
func (p *past) present(now *Table) ([]bool, error) {
	key := "created"
	if now.Type.History {
		key = "at"
	}
	dated := now.Type.Field(key) != nil
	deleted := p.wasDeleted(now.Type.Key)
	if !dated && len(deleted) == 0 {
		return nil, nil
	}
	in := make([]bool, now.N)
	for i := range in {
		in[i] = true
	}
	if dated {
		c, err := p.now.Column(now.Type.Key, key)
		if err != nil {
			return nil, err
		}
		later := make([]bool, chunkSize)
		for first := 0; first < now.N; first += chunkSize {
			some := later[:min(chunkSize, now.N-first)]
			c.Within(int32(first), p.end, 1<<62, some)
			for i, l := range some {
				in[first+i] = !l
			}
		}
	}
	for id, was := range deleted {
		if row := now.IDs.Row(id); row >= 0 && was {
			in[row] = false
		}
	}
	return in, nil
}
