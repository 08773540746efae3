// Package twins finds records that were likely entered twice: names that are alike, and something else that few have and
// both share.
package twins

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"

	"uzzel/core/alike"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// Twins finds records that were entered twice.
type Twins struct {
	store *store.Store
	one   sync.Mutex // one comparison at a time: it holds all texts of a type
}

// New finds those of a store.
func New(s *store.Store) *Twins { return &Twins{store: s} }

// Pair is two records that are likely the same; A has the lower number. Why says in words what they have in common.
type Pair struct {
	A, B         int64
	NameA, NameB string
	Why          []string
	Like         float64 // how much their names are alike, up to 1
}

// How alike names are of records that are likely the same: where they share what few have, where they share an address or
// number of their own, which nobody else has.
const (
	likely     = 0.8
	addressed  = 0.5
	few        = 5   // records that share a value which says something
	manyLinked = 200 // records that link to one, above which they are not compared with one another
	// Most is how many pairs are told.
	Most = 500
	// maxCompared is how many records are compared at most.
	maxCompared = 500_000
)

// Find gives the likely pairs of a type that a person sees, those that are most alike first.
func (tw *Twins) Find(ctx context.Context, v *answers.View, typ string) ([]Pair, error) {
	t, err := records.Writable(v, typ)
	if err != nil {
		return nil, err
	}
	if t.Name == "" {
		return nil, fault.New(fault.Invalid, "", "%s have no names to go by.", t.Label)
	}
	table, err := v.Snap.Table(typ)
	if err != nil {
		return nil, err
	}
	if table.N > maxCompared {
		return nil, fault.New(
			fault.Invalid, "", "These are more than %d %s, which are not compared here.", maxCompared, strings.ToLower(t.Label))
	}
	tw.one.Lock()
	defer tw.one.Unlock()
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	apart, err := tw.store.Apart(ctx, typ)
	if err != nil {
		return nil, err
	}
	f := &finder{v: v, t: t, pairs: map[[2]int32]*Pair{}}
	if err := f.read(ctx); err != nil {
		return nil, err
	}
	var list []Pair
	for rows, p := range f.pairs {
		if !f.holds(rows, p) {
			continue
		}
		p.A, p.B = f.number(rows[0]), f.number(rows[1])
		p.NameA, p.NameB = v.Snap.Name(typ, rows[0]), v.Snap.Name(typ, rows[1])
		if p.A > p.B {
			p.A, p.B, p.NameA, p.NameB = p.B, p.A, p.NameB, p.NameA
		}
		if !apart[[2]int64{p.A, p.B}] {
			list = append(list, *p)
		}
	}
	slices.SortFunc(list, func(a, b Pair) int {
		return cmp.Or(
			cmp.Compare(len(b.Why), len(a.Why)),
			cmp.Compare(b.Like, a.Like),
			cmp.Compare(a.A, b.A),
			cmp.Compare(a.B, b.B),
		)
	})
	return list[:min(len(list), Most)], nil
}

// Apart keeps that two records are two, or no longer.
func (tw *Twins) Apart(ctx context.Context, v *answers.View, typ string, a, b int64, on bool) error {
	t, err := records.Writable(v, typ)
	if err != nil {
		return err
	}
	for _, id := range []int64{a, b} {
		if err := records.Sees(v, t, id); err != nil {
			return err
		}
	}
	if a == b {
		return fault.New(fault.Invalid, "", "These are one.")
	}
	return tw.store.SetApart(ctx, typ, a, b, v.Who.ID, on)
}

type finder struct {
	v     *answers.View
	t     *schema.Type
	table *column.Table
	words map[int32][]string
	pairs map[[2]int32]*Pair
	own   []field // texts that are somebody's own: addresses and numbers
	links []field
}

// field is a field with its values, by row.
type field struct {
	*schema.Field
	values map[int32]string
}

func (f *finder) number(row int32) int64 {
	n, _ := strconv.ParseInt(f.table.IDs.At(row), 10, 64)
	return n
}

// read finds what may be the same: records that share what few have, and those of the same words in their name.
func (f *finder) read(ctx context.Context) (err error) {
	if f.table, err = f.v.Snap.Table(f.t.Key); err != nil {
		return err
	}
	f.words = map[int32][]string{}
	named := map[string][]int32{}
	if err := f.each(f.t.Name, func(row int32, text string) {
		f.words[row] = alike.Words(text)
		if key := alike.Key(f.words[row]); key != "" {
			named[key] = append(named[key], row)
		}
	}); err != nil {
		return err
	}
	f.meet(named, "", manyLinked)
	for i := range f.t.Fields {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		of := &f.t.Fields[i]
		switch {
		case !of.Entered() || of.Key == f.t.Name || of.Key == f.t.Owner:
		case of.Kind == schema.Text:
			err = f.shared(of)
		case of.Kind == schema.Link && of.To != f.t.Key:
			err = f.linked(of)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// each reads the values of a field of the records that the person sees.
func (f *finder) each(key string, do func(row int32, text string)) error {
	return f.v.Snap.EachText(f.t.Key, key, func(row int32, _, text string) {
		if text != "" && f.v.Sight.Sees(f.t.Key, row) {
			do(row, text)
		}
	})
}

// shared meets records that have the same text, where few have it.
func (f *finder) shared(of *schema.Field) error {
	own := of.Format == "email" || of.Format == "phone"
	values, by := map[int32]string{}, map[string][]int32{}
	err := f.each(of.Key, func(row int32, text string) {
		key := plain(of, text)
		if len(key) < 3 {
			return
		}
		if own {
			values[row] = key
		}
		by[key] = append(by[key], row)
	})
	if own {
		f.own = append(f.own, field{of, values})
	}
	f.meet(by, "the same "+strings.ToLower(of.Label), few)
	return err
}

// plain is a text without what people write in one way or another.
func plain(of *schema.Field, text string) string {
	if of.Format == "phone" {
		return strings.Map(func(r rune) rune {
			if unicode.IsDigit(r) {
				return r
			}
			return -1
		}, text)
	}
	return strings.TrimSpace(column.Fold(text))
}

// linked meets records that link to the same one.
func (f *finder) linked(of *schema.Field) error {
	c, err := f.v.Snap.Column(f.t.Key, of.Key)
	if err != nil {
		return err
	}
	values, by := map[int32]string{}, map[string][]int32{}
	for row := range f.words {
		to := c.At(row)
		if to == column.Null || !f.v.Sight.Sees(of.To, int32(to)) {
			continue
		}
		values[row] = strconv.FormatInt(to, 10)
		by[values[row]] = append(by[values[row]], row)
	}
	f.links = append(f.links, field{of, values})
	f.meet(by, "of the same "+strings.ToLower(of.Label), manyLinked)
	return nil
}

// meet compares records that have something in common, where no more than some have it.
func (f *finder) meet(by map[string][]int32, why string, most int) {
	for _, rows := range by {
		if len(rows) < 2 || len(rows) > most {
			continue
		}
		for i, a := range rows {
			for _, b := range rows[i+1:] {
				f.note(min(a, b), max(a, b), why)
			}
		}
	}
}

// note keeps that two records have something in common, where their names are alike at all.
func (f *finder) note(a, b int32, why string) {
	at := [2]int32{a, b}
	p := f.pairs[at]
	if p == nil {
		like := alike.Names(f.words[a], f.words[b])
		if like < addressed {
			return
		}
		p = &Pair{Like: like}
		f.pairs[at] = p
	}
	if why != "" {
		p.Why = append(p.Why, why)
	}
}

// holds says whether a pair is likely one, and adds why.
func (f *finder) holds(rows [2]int32, p *Pair) bool {
	addresses := 0
	for _, of := range f.own {
		if a, b := of.values[rows[0]], of.values[rows[1]]; a != "" && a == b {
			addresses++
		}
	}
	ok := addresses > 0 || (p.Like >= likely && len(p.Why) > 0)
	if p.Like == 1 && !f.differ(rows) {
		ok = true
	}
	if p.Like == 1 {
		p.Why = append(p.Why, "the same name")
	} else {
		p.Why = append(p.Why, "names alike")
	}
	slices.Sort(p.Why)
	return ok
}

// differ says whether two records of one name have addresses of their own, or belong to different records.
func (f *finder) differ(rows [2]int32) bool {
	for _, of := range slices.Concat(f.own, f.links) {
		if a, b := of.values[rows[0]], of.values[rows[1]]; a != "" && b != "" && a != b {
			return true
		}
	}
	return false
}
