package engine

import (
	"sync"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// Sees says which records of a type a reader may see at all.
type Sees string

// What a reader may see of a type; everything where nothing is said.
const (
	SeesAll  Sees = ""
	SeesTeam Sees = "team" // those whose owner is in the reader's team, and the reader's own
	SeesOwn  Sees = "own"  // those that the reader owns
)

// Sight is what one reader may see of a snapshot (docs/brief.md, "Rows": whose). A record with an owner is seen by its
// owner, or its owner's team, where its type is limited so. A record of a type without owner that belongs to others (a
// line to its deal, a change to its record) is seen where all that it belongs to is seen; one that belongs to nothing
// is not seen where its type belongs to a limited one. What is looked up is kept: one Sight serves many questions.
type Sight struct {
	snap   *column.Snapshot
	reader string
	sees   map[string]Sees

	mu   sync.Mutex
	rows map[string][]bool  // by type; nil where all are seen
	tops map[string][]int64 // by type and field: topmost parents as the reader sees them
	open map[string]bool    // types that are being worked out: a circle of belonging stops there

	now  *Sight                      // of a state of an earlier day: what the reader sees today
	then map[*column.Snapshot]*Sight // of states, by state
}

// NewSight is what a reader sees where types are limited as sees says.
func NewSight(snap *column.Snapshot, reader string, sees map[string]Sees) *Sight {
	return &Sight{
		snap:   snap,
		reader: reader,
		sees:   sees,
		rows:   map[string][]bool{},
		tops:   map[string][]int64{},
		open:   map[string]bool{},
	}
}

// of is what the reader sees of the state of an earlier day: the records that are theirs to see today, and of those that
// are deleted, what would be.
func (s *Sight) of(state *column.Snapshot) *Sight {
	s.mu.Lock()
	defer s.mu.Unlock()
	if then := s.then[state]; then != nil {
		return then
	}
	then := NewSight(state, s.reader, s.sees)
	then.now = s
	if len(s.then) >= 4 || s.then == nil {
		s.then = map[*column.Snapshot]*Sight{}
	}
	s.then[state] = then
	return then
}

// asToday marks the rows of a table of a state whose records the reader sees today.
func (s *Sight) asToday(t *column.Table) ([]bool, error) {
	today, err := s.now.Rows(t.Type.Key)
	if err != nil {
		return nil, err
	}
	if today == nil {
		return nil, nil
	}
	gone, err := s.now.gone(t.Type, t.Gone())
	if err != nil {
		return nil, err
	}
	seen := make([]bool, t.N)
	for row := range seen {
		now, was := t.Origin(int32(row))
		seen[row] = (now >= 0 && today[now]) || (was >= 0 && gone[was])
	}
	return seen, nil
}

// gone marks which records that were deleted the reader would see, by whom they belonged to last.
func (s *Sight) gone(typ *schema.Type, gone *column.Table) ([]bool, error) {
	if gone == nil {
		return nil, nil
	}
	seen := make([]bool, gone.N)
	if typ.Owner != "" {
		ok, err := s.peers(s.sees[typ.Key] == SeesTeam)
		if err != nil {
			return nil, err
		}
		people, err := s.snap.Table(typ.Field(typ.Owner).To)
		if err != nil {
			return nil, err
		}
		for row := range seen {
			if at := people.IDs.Row(gone.Linked(typ.Owner, int32(row))); at >= 0 {
				seen[row] = ok[at]
			}
		}
		return seen, nil
	}
	for row := range seen {
		belongs := false
		for _, key := range s.snap.Schema.Belongs(typ) {
			id := gone.Linked(key, int32(row))
			if id == "" {
				continue
			}
			to := typ.Field(key).To
			table, err := s.snap.Table(to)
			if err != nil {
				return nil, err
			}
			rows, err := s.Rows(to)
			if err != nil {
				return nil, err
			}
			at := table.IDs.Row(id)
			belongs = at >= 0 && (rows == nil || rows[at]) // what belonged to what is gone itself is not told of
			if !belongs {
				break
			}
		}
		seen[row] = belongs
	}
	return seen, nil
}

// Limited says whether there may be records of a type that the reader does not see.
func (s *Sight) Limited(typ string) bool { return s.limited(typ, map[string]bool{}) }

func (s *Sight) limited(typ string, over map[string]bool) bool {
	t := s.snap.Schema.Type(typ)
	if t == nil || over[typ] {
		return false
	}
	over[typ] = true
	if t.Owner != "" {
		return s.sees[typ] != SeesAll
	}
	if t.History && s.snap.Schema.HidesAny() {
		return true
	}
	for _, to := range s.snap.Schema.BelongsTo(t) {
		if s.limited(to, over) {
			return true
		}
	}
	return false
}

// Rows says of each row of a type whether the reader may see it; nil where all may be seen.
func (s *Sight) Rows(typ string) ([]bool, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.rowsOf(typ)
}

// Sees says whether the reader may see a row of a type; no where that cannot be told.
func (s *Sight) Sees(typ string, row int32) bool {
	rows, err := s.Rows(typ)
	return err == nil && row >= 0 && (rows == nil || (int(row) < len(rows) && rows[row]))
}

func (s *Sight) rowsOf(typ string) ([]bool, error) {
	if seen, ok := s.rows[typ]; ok {
		return seen, nil
	}
	t, err := s.snap.Table(typ)
	if err != nil {
		return nil, err
	}
	if s.open[typ] || !s.Limited(typ) {
		return nil, nil
	}
	s.open[typ] = true
	defer delete(s.open, typ)
	var seen []bool
	switch {
	case s.now != nil:
		seen, err = s.asToday(t)
	case t.Type.Owner != "":
		seen, err = s.owned(t)
	case t.Type.History:
		seen, err = s.changes(t)
	default:
		seen, err = s.belonging(t)
	}
	if err != nil {
		return nil, err
	}
	s.rows[typ] = seen
	return seen, nil
}

// mark works out a row of a table from its value in a column, a stretch at a time.
func mark(n int, c *column.Column, seen []bool, ok func(row int, v int64) bool) {
	parallel(n, func(from, to int) {
		vals := make([]int64, batchSize)
		for ; from < to; from += batchSize {
			part := vals[:min(batchSize, to-from)]
			c.Run(int32(from), part)
			for i, v := range part {
				seen[from+i] = ok(from+i, v)
			}
		}
	})
}

func (s *Sight) owned(t *column.Table) ([]bool, error) {
	owner, err := s.snap.Column(t.Type.Key, t.Type.Owner)
	if err != nil {
		return nil, err
	}
	ok, err := s.peers(s.sees[t.Type.Key] == SeesTeam)
	if err != nil {
		return nil, err
	}
	seen := make([]bool, t.N)
	mark(t.N, owner, seen, func(_ int, v int64) bool { return v != column.Null && ok[v] })
	return seen, nil
}

func (s *Sight) belonging(t *column.Table) ([]bool, error) {
	seen, belongs := make([]bool, t.N), make([]bool, t.N)
	for i := range seen {
		seen[i] = true
	}
	for _, key := range s.snap.Schema.Belongs(t.Type) {
		to, err := s.rowsOf(t.Type.Field(key).To)
		if err != nil {
			return nil, err
		}
		link, err := s.snap.Column(t.Type.Key, key)
		if err != nil {
			return nil, err
		}
		mark(t.N, link, seen, func(row int, v int64) bool {
			belongs[row] = belongs[row] || v != column.Null
			return seen[row] && (v == column.Null || to == nil || to[v])
		})
	}
	for i, b := range belongs {
		seen[i] = seen[i] && b
	}
	return seen, nil
}

// changes are seen where the record that was changed is seen, and the field of it.
func (s *Sight) changes(t *column.Table) ([]bool, error) {
	types, err := s.snap.Column(t.Type.Key, schema.HistoryType)
	if err != nil {
		return nil, err
	}
	records, err := s.snap.Column(t.Type.Key, schema.HistoryRecord)
	if err != nil {
		return nil, err
	}
	fields, err := s.snap.Column(t.Type.Key, schema.HistoryField)
	if err != nil {
		return nil, err
	}
	type of struct {
		table  *column.Table
		seen   []bool
		hidden []bool // by code of the field
	}
	names, ids := types.Dict.Values(), records.Dict.Values()
	kinds := make([]of, len(names))
	for i, name := range names {
		if s.snap.Schema.Type(name) == nil {
			continue // of a type that is no more: seen by nobody whose sight is limited
		}
		if kinds[i].table, err = s.snap.Table(name); err != nil {
			return nil, err
		}
		if kinds[i].seen, err = s.rowsOf(name); err != nil {
			return nil, err
		}
		for _, field := range fields.Dict.Values() {
			kinds[i].hidden = append(kinds[i].hidden, s.snap.Schema.Hides(name, field))
		}
	}
	seen := make([]bool, t.N)
	kind, field := make([]int64, t.N), make([]int64, t.N)
	types.Run(0, kind)
	fields.Run(0, field)
	mark(t.N, records, seen, func(row int, id int64) bool {
		if kind[row] == column.Null || id == column.Null {
			return false
		}
		k := kinds[kind[row]]
		if k.table == nil || (field[row] != column.Null && k.hidden[field[row]]) {
			return false
		}
		at := k.table.IDs.Row(ids[id])
		return at >= 0 && (k.seen == nil || k.seen[at])
	})
	return seen, nil
}

// peers marks the reader among the readers' type, and those of the reader's team where team is asked for.
func (s *Sight) peers(team bool) ([]bool, error) {
	people, err := s.snap.Table(s.snap.Schema.Readers().Key)
	if err != nil {
		return nil, err
	}
	ok := make([]bool, people.N)
	me := people.IDs.Row(s.reader)
	if me < 0 {
		return ok, nil
	}
	if team && people.Type.Team != "" {
		c, err := s.snap.Column(people.Type.Key, people.Type.Team)
		if err != nil {
			return nil, err
		}
		if mine := c.At(me); mine != column.Null {
			for i := range ok {
				ok[i] = c.At(int32(i)) == mine
			}
		}
	}
	ok[me] = true
	return ok, nil
}

// topmost is a link to the topmost parent as the reader sees it: where one on the way is not seen, neither is what is
// above it.
func (s *Sight) topmost(t *schema.Type, f *schema.Field) ([]int64, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	key := t.Key + "." + f.Key
	if tops, ok := s.tops[key]; ok {
		return tops, nil
	}
	seen, err := s.rowsOf(t.Key)
	if err != nil {
		return nil, err
	}
	parent, err := s.snap.Column(t.Key, f.Worked.Of[0])
	if err != nil {
		return nil, err
	}
	tops := make([]int64, len(seen))
	been := make([]int32, len(seen))
	for row := range tops {
		at := int64(row)
		for {
			been[at] = int32(row) + 1
			up := parent.At(int32(at))
			if up == column.Null || been[up] == int32(row)+1 {
				break
			}
			if !seen[up] {
				at = closed
				break
			}
			at = up
		}
		tops[row] = at
	}
	s.tops[key] = tops
	return tops, nil
}

// SeesTop says whether the reader sees the whole way from a row to its topmost parent.
func (s *Sight) SeesTop(t *schema.Type, f *schema.Field, row int32) bool {
	if rows, err := s.Rows(f.To); err != nil || rows == nil {
		return err == nil
	}
	tops, err := s.topmost(t, f)
	return err == nil && tops[row] != closed
}

// seen says of each row of a type whether the reader may see it; nil where all may be seen.
func (r *run) seen(typ string) ([]bool, error) { return r.sight.Rows(typ) }
