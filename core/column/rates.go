package column

import (
	"cmp"
	"math/bits"
	"slices"

	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Fields of exchange rates: so many units of a currency are worth so much of the organisation's.
const (
	rateCurrency = "currency"
	rateDay      = "day"
	rateUnits    = "units"
	rateWorth    = "worth"
)

// rate is what a currency is worth from a day on; units and worth in millionths.
type rate struct {
	day          int32
	units, worth int64
}

// rates are all exchange rates there are, by currency in capital letters and by day.
type rates struct {
	of   map[string][]rate
	hold int32
}

// ratesOf reads the exchange rates, with the columns that they were read from. Of several of one day the highest number
// counts; what is not more than nothing is no rate.
func (s *Snapshot) ratesOf() (*rates, []*Column, error) {
	t := s.Schema.Rates()
	book := &rates{of: map[string][]rate{}, hold: int32(s.Schema.RatesHold())}
	if t == nil {
		return book, nil, nil
	}
	var cols []*Column
	for _, key := range []string{rateCurrency, rateDay, rateUnits, rateWorth} {
		c, err := s.Column(t.Key, key)
		if err != nil {
			return nil, nil, err
		}
		cols = append(cols, c)
	}
	table, err := s.Table(t.Key)
	if err != nil {
		return nil, nil, err
	}
	for row := range int32(table.N) {
		currency, day, units, worth := cols[0].At(row), cols[1].At(row), cols[2].At(row), cols[3].At(row)
		if currency == Null || day == Null || units <= 0 || worth <= 0 {
			continue
		}
		code := Fold(cols[0].Dict.Values()[currency])
		book.of[code] = append(book.of[code], rate{int32(day), units, worth})
	}
	for _, list := range book.of {
		slices.SortStableFunc(list, func(a, b rate) int { return int(a.day) - int(b.day) })
	}
	return book, cols, nil
}

// at is the rate of a currency on a day, false where there is none: the latest on that day or before, if it still holds.
func (r *rates) at(list []rate, day int32) (rate, bool) {
	i, same := slices.BinarySearchFunc(list, day, func(r rate, day int32) int { return cmp.Compare(r.day, day) })
	for same && i+1 < len(list) && list[i+1].day == day {
		i++
	}
	if !same {
		i--
	}
	if i < 0 || day-list[i].day > r.hold {
		return rate{}, false
	}
	return list[i], true
}

// Converted is the amounts of a field in the organisation's currency.
type Converted struct {
	*Column
	unrated []uint64 // a bit a row: there is an amount, and no rate for it
	missing int

	deps []*Column // what it was worked out from
	by   *converter
}

// Unrated says whether a row has an amount for which there is no rate; its value is empty.
func (c *Converted) Unrated(row int32) bool {
	at := int(row >> 6)
	return c.missing > 0 && row >= 0 && at < len(c.unrated) && c.unrated[at]&(1<<(row&63)) != 0
}

// plain says that no amount is foreign: the column is the field's own.
func (c *Converted) plain() bool { return c.Ints == c.deps[len(c.deps)-1].Ints }

// Lacks says whether one of the rows that are seen has an amount for which there is no rate; nil stands for all.
func (c *Converted) Lacks(seen []bool) bool {
	if c.missing == 0 || seen == nil {
		return c.missing > 0
	}
	for at, word := range c.unrated {
		for ; word != 0; word &= word - 1 {
			if row := at<<6 + bits.TrailingZeros64(word); row < len(seen) && seen[row] {
				return true
			}
		}
	}
	return false
}

// Missing is how many rows have an amount for which there is no rate.
func (c *Converted) Missing() int { return c.missing }

// Conversion says which amounts are converted, and how: those of a field of a record type, at the rate of the first of
// some dates that is filled, paths from the record, and no later than a day; where none is filled, of that day.
type Conversion struct {
	Type  string
	Field string
	Dates []string
	Day   int32
}

func (c Conversion) key() string {
	key := c.Field + "@" + period.FormatDay(c.Day)
	for _, d := range c.Dates {
		key += "," + d
	}
	return key
}

// conversions are how many of a table's conversions are kept.
const conversions = 16

// Convert is the amounts of a field in the organisation's currency (docs/brief.md, "Several currencies"), each rounded to
// the cent. Where all are in it already they are the field's own column. What was worked out is kept, and brought up to
// date by Apply.
func (s *Snapshot) Convert(c Conversion) (*Converted, error) {
	if s.whole != nil {
		return s.whole.Convert(c)
	}
	t, err := s.Table(c.Type)
	if err != nil {
		return nil, err
	}
	raw, err := s.Column(c.Type, c.Field)
	if err != nil || t.Type.Currency == "" {
		return &Converted{Column: raw}, err
	}
	by, deps, err := s.converter(t, c)
	if err != nil {
		return nil, err
	}
	deps = append(deps, raw)
	t.converting.Lock()
	defer t.converting.Unlock()
	t.mu.Lock()
	kept := t.converted[c.key()]
	t.mu.Unlock()
	if kept != nil && slices.Equal(kept.deps, deps) {
		return kept, nil
	}
	out := by.all(raw, t.N)
	out.deps, out.by = deps, by
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.converted == nil || len(t.converted) >= conversions {
		t.converted = map[string]*Converted{}
	}
	t.converted[c.key()] = out
	return out, nil
}

// track reads a field of the record that each row leads to, over links to one.
type track struct {
	links []*Column
	last  *Column
}

func (s *Snapshot) track(t *schema.Type, path string) (track, error) {
	var out track
	hops, f, err := s.Schema.Follow(t, path)
	if err != nil {
		return out, err
	}
	for _, h := range hops {
		c, err := s.Column(h.Type.Key, h.Field.Key)
		if err != nil {
			return out, err
		}
		out.links = append(out.links, c)
		t = s.Schema.Type(h.Field.To)
	}
	out.last, err = s.Column(t.Key, f.Key)
	return out, err
}

func (t *track) columns() []*Column { return append(slices.Clone(t.links), t.last) }

func (t *track) read(rows []int32, days bool, out []int64) {
	for _, l := range t.links {
		l.Gather(rows, out)
		for i, v := range out[:len(rows)] {
			rows[i] = int32(max(v, -1))
		}
	}
	last := t.last
	if days {
		last = last.Days()
	}
	last.Gather(rows, out)
}

// Behind reads a field behind links to one of a record, by its path: its column, and the value that the record leads to.
func (s *Snapshot) Behind(t *schema.Type, path string, row int32) (*Column, int64, error) {
	way, err := s.track(t, path)
	if err != nil {
		return nil, Null, err
	}
	var out [1]int64
	way.read([]int32{row}, false, out[:])
	return way.last, out[0], nil
}

// converter converts amounts of one record type.
type converter struct {
	conversion Conversion
	currency   track
	dates      []track
	book       *rates
	of         [][]rate // by code of the currency
	own        int      // the code of the organisation's currency, −1 where it has none
}

func (s *Snapshot) converter(t *Table, c Conversion) (*converter, []*Column, error) {
	now := s
	if s.past != nil {
		now = s.past.now // rates are those known today
	}
	book, deps, err := now.ratesOf()
	if err != nil {
		return nil, nil, err
	}
	by := &converter{conversion: c, book: book, own: -1}
	if by.currency, err = s.track(t.Type, t.Type.Currency); err != nil {
		return nil, nil, err
	}
	deps = append(deps, by.currency.columns()...)
	for _, path := range c.Dates {
		d, err := s.track(t.Type, path)
		if err != nil {
			return nil, nil, err
		}
		by.dates, deps = append(by.dates, d), append(deps, d.columns()...)
	}
	own := Fold(s.Schema.Settings.Currency)
	for i, code := range by.currency.last.Dict.Folded() {
		if code == own {
			by.own = i
		}
		by.of = append(by.of, book.of[code])
	}
	return by, deps, nil
}

// all converts a column.
func (by *converter) all(raw *Column, n int) *Converted {
	out := &Converted{Column: raw}
	var ints *Ints // from the first foreign amount on
	vals := make([]int64, chunkSize)
	p := by.page()
	for first := 0; first < n; first += chunkSize {
		part := vals[:min(chunkSize, n-first)]
		for i := range part {
			p.rows[i] = int32(first + i)
		}
		raw.Run(int32(first), part)
		if foreign := p.read(part); foreign {
			if ints == nil {
				ints = NewInts(1)
				own := make([]int64, chunkSize)
				for before := 0; before < first; before += chunkSize {
					raw.Run(int32(before), own)
					ints.Extend(own)
				}
			}
			p.convert(part, func(i int) { out.miss(int32(first+i), n) })
		}
		if ints != nil {
			ints.Extend(part)
		}
	}
	if ints != nil {
		out.Column = &Column{Kind: raw.Kind, Ints: ints}
	}
	return out
}

func (c *Converted) miss(row int32, n int) {
	if len(c.unrated) < (n+63)/64 {
		c.unrated = append(c.unrated, make([]uint64, (n+63)/64-len(c.unrated))...)
	}
	if c.unrated[row>>6]&(1<<(row&63)) == 0 {
		c.unrated[row>>6] |= 1 << (row & 63)
		c.missing++
	}
}

// with is the conversion with one row read anew, from the table's columns as they are now; nil where that needs all rows.
func (c *Converted) with(t *Table, row int32) *Converted {
	column := func(was *Column, key string) *Column {
		if i := t.Type.Place(key); i >= 0 && was != nil {
			return t.cols[i]
		}
		return nil
	}
	by := *c.by
	if len(by.currency.links) > 0 {
		return nil
	}
	deps := slices.Clone(c.deps)
	swap := func(was, now *Column) bool {
		for i, d := range deps {
			if d == was {
				deps[i] = now
			}
		}
		return now != nil
	}
	raw := column(c.Column, by.conversion.Field)
	cur := column(by.currency.last, t.Type.Currency)
	if !swap(c.deps[len(c.deps)-1], raw) || !swap(by.currency.last, cur) || len(cur.Dict.Values()) != len(by.of) {
		return nil
	}
	by.currency.last = cur
	by.dates = slices.Clone(by.dates)
	for i := range by.dates {
		d := column(by.dates[i].last, by.conversion.Dates[i])
		if len(by.dates[i].links) > 0 || !swap(by.dates[i].last, d) {
			return nil
		}
		by.dates[i].last = d
	}
	p := by.page()
	p.rows[0] = row
	vals := []int64{raw.At(row)}
	foreign, missing := p.read(vals), false
	if foreign {
		p.convert(vals, func(int) { missing = true })
	}
	if c.plain() {
		if foreign {
			return nil
		}
		return &Converted{Column: raw, deps: deps, by: &by}
	}
	out := &Converted{
		Column:  &Column{Kind: c.Kind, Ints: c.Ints.With(row, vals[0])},
		unrated: c.unrated, missing: c.missing, deps: deps, by: &by,
	}
	if c.Unrated(row) != missing {
		out.unrated = slices.Clone(c.unrated)
		if missing {
			out.miss(row, max(t.N, int(row)+1))
		} else {
			out.unrated[row>>6] &^= 1 << (row & 63)
			out.missing--
		}
	}
	return out
}

// page is room for converting some rows at a time.
type page struct {
	by    *converter
	rows  []int32
	at    []int32
	codes []int64
	days  []int64
	more  []int64
}

func (by *converter) page() *page {
	return &page{by, make([]int32, chunkSize), make([]int32, chunkSize),
		make([]int64, chunkSize), make([]int64, chunkSize), make([]int64, chunkSize)}
}

// read reads the currencies of the rows of amounts, and says whether one is foreign.
func (p *page) read(amounts []int64) bool {
	n := len(amounts)
	copy(p.at, p.rows[:n])
	p.by.currency.read(p.at[:n], false, p.codes[:n])
	foreign := false
	for i, c := range p.codes[:n] {
		if c == int64(p.by.own) || c == Null || amounts[i] == Null {
			p.codes[i] = Null
			continue
		}
		foreign = true
	}
	return foreign
}

// dated reads of the rows the first date that is filled, Null where none is.
func (p *page) dated(n int) []int64 {
	days := p.days[:n]
	for i := range days {
		days[i] = Null
	}
	for d := range p.by.dates {
		copy(p.at, p.rows[:n])
		p.by.dates[d].read(p.at[:n], true, p.more[:n])
		for i, day := range p.more[:n] {
			if days[i] == Null {
				days[i] = day
			}
		}
	}
	return days
}

// convert converts the amounts whose currencies were read, and tells of those that have no rate.
func (p *page) convert(amounts []int64, miss func(i int)) {
	n, by := len(amounts), p.by
	days := p.dated(n)
	for i, c := range p.codes[:n] {
		if c == Null {
			continue
		}
		day := by.conversion.Day
		if days[i] != Null {
			day = min(day, int32(days[i]))
		}
		r, ok := by.book.at(by.of[c], day)
		if ok {
			// amount ÷ units × worth, rounded half away from zero to the cent
			amounts[i], ok = exact.Frac(amounts[i], r.units).Scaled(r.worth)
		}
		if !ok {
			amounts[i] = Null
			miss(i)
		}
	}
}

// Amounts are the amounts of a field with what converts them on any day.
type Amounts struct {
	raw   []int64
	day   []int32 // whose rate is taken, no later than that of the question
	rates [][]rate
	book  *rates
}

// noDay stands for a record without dates: it takes the rate of the day of the question.
const noDay = 1<<31 - 1

// Amounts reads the amounts of a field as they are recorded; nil where all are in the organisation's currency. The day of
// the conversion is not looked at.
func (s *Snapshot) Amounts(c Conversion) (*Amounts, error) {
	if s.whole != nil {
		return s.whole.Amounts(c)
	}
	t, err := s.Table(c.Type)
	if err != nil || t.Type.Currency == "" {
		return nil, err
	}
	raw, err := s.Column(c.Type, c.Field)
	if err != nil {
		return nil, err
	}
	by, _, err := s.converter(t, c)
	if err != nil {
		return nil, err
	}
	out := &Amounts{make([]int64, t.N), make([]int32, t.N), make([][]rate, t.N), by.book}
	raw.Run(0, out.raw)
	p, none, some := by.page(), []rate{}, false
	for first := 0; first < t.N; first += chunkSize {
		end := min(first+chunkSize, t.N)
		for i := range end - first {
			p.rows[i] = int32(first + i)
		}
		if !p.read(out.raw[first:end]) {
			continue
		}
		some = true
		for i, day := range p.dated(end - first) {
			if c := p.codes[i]; c != Null {
				if out.rates[first+i] = by.of[c]; out.rates[first+i] == nil {
					out.rates[first+i] = none
				}
				if out.day[first+i] = noDay; day != Null {
					out.day[first+i] = int32(day)
				}
			}
		}
	}
	if !some {
		return nil, nil
	}
	return out, nil
}

// Foreign says whether the amount of a row is in another currency than the organisation's.
func (a *Amounts) Foreign(row int32) bool { return a.rates[row] != nil }

// RateDay is the day whose rate the amount of a row is converted at, where it is asked on a day.
func (a *Amounts) RateDay(row, on int32) int32 { return min(a.day[row], on) }

// At is the amount of a row at the rate of a day, false where there is none.
func (a *Amounts) At(row, day int32) (int64, bool) {
	r, ok := a.book.at(a.rates[row], day)
	if !ok {
		return Null, false
	}
	return exact.Frac(a.raw[row], r.units).Scaled(r.worth)
}
