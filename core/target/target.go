// Package target is what people are meant to reach: amounts by measure, by whom and by month, what they add up to over a
// period, and how an amount is cut into months. It knows no records and no interface. See docs/brief.md, "Targets".
package target

import (
	"sort"
	"time"

	"uzzel/core/exact"
	"uzzel/core/period"
)

// Month counts months: twelve times the year, and from 0 for January.
type Month int

// MonthOf is the month that a day is in.
func MonthOf(day int32) Month {
	y, m, _ := period.Civil(day)
	return Month(y*12 + int(m) - 1)
}

// Span is a month's first and last day.
func (m Month) Span() period.Span {
	return period.Span{From: m.first(), To: (m + 1).first() - 1, HasFrom: true, HasTo: true}
}

func (m Month) first() int32 { return period.Day(int(m)/12, time.Month(int(m)%12+1), 1) }

// Scope is whom a target is for. Its zero value is everyone.
type Scope struct {
	Kind string // Team, Person, or empty for everyone
	ID   string
}

// Kinds of scopes.
const (
	Team   = "team"
	Person = "person"
)

// Entry is one month's target.
type Entry struct {
	Measure string
	Scope   Scope
	Month   Month
	Amount  exact.Num
}

// Book holds all targets.
type Book struct {
	amounts map[string]map[Scope]map[Month]exact.Num
}

// NewBook makes a book of entries.
func NewBook(entries []Entry) *Book {
	b := &Book{map[string]map[Scope]map[Month]exact.Num{}}
	for _, e := range entries {
		by := b.amounts[e.Measure]
		if by == nil {
			by = map[Scope]map[Month]exact.Num{}
			b.amounts[e.Measure] = by
		}
		if by[e.Scope] == nil {
			by[e.Scope] = map[Month]exact.Num{}
		}
		by[e.Scope][e.Month] = e.Amount
	}
	return b
}

// At is what is set for a scope in a month itself.
func (b *Book) At(measure string, s Scope, m Month) (exact.Num, bool) {
	n, ok := b.amounts[measure][s][m]
	return n, ok
}

// Tree says who is in which scope: the teams of everyone, the people of a team. People without a team are beside the
// teams.
type Tree func(Scope) []Scope

// Sum is what the targets of some scopes add up to over a period with a first and a last day.
//
// A scope's own target of a month counts; where it has none, what those within it have. A month that the period holds
// only a part of counts by its days. Open lists the months for which nothing is set; where that is all of them, set is
// false. ByDays says that a month counts in part. The outcome is rounded to hundredths.
func (b *Book) Sum(measure string, scopes []Scope, tree Tree, span period.Span) (out Sum) {
	for m := MonthOf(span.From); m <= MonthOf(span.To); m++ {
		whole := m.Span()
		days := min(whole.To, span.To) - max(whole.From, span.From) + 1
		all := whole.To - whole.From + 1
		out.ByDays = out.ByDays || days < all
		found := false
		for _, s := range scopes {
			if n, ok := b.within(measure, s, tree, m); ok {
				found = true
				out.Amount = out.Amount.Add(n.Mul(exact.Frac(int64(days), int64(all))))
			}
		}
		if found {
			out.Set = true
		} else {
			out.Open = append(out.Open, m)
		}
	}
	out.Amount = out.Amount.Round(2)
	return out
}

// Sum is what targets add up to.
type Sum struct {
	Amount exact.Num
	Set    bool
	Open   []Month // without a target
	ByDays bool    // whether a month counts in part
}

func (b *Book) within(measure string, s Scope, tree Tree, m Month) (exact.Num, bool) {
	if n, ok := b.At(measure, s, m); ok {
		return n, true
	}
	sum, any := exact.Num{}, false
	for _, k := range tree(s) {
		if n, ok := b.within(measure, k, tree, m); ok {
			sum, any = sum.Add(n), true
		}
	}
	return sum, any
}

// Cut cuts an amount into parts by weights, to so many decimals, so that the parts add up to it exactly: what is left
// over by rounding down goes to the parts that lost most, the earlier first. Weights below nothing count as nothing;
// where all do the parts are even and shaped is false. Twelve months are cut into quarters first, so that those of an
// even year are even too. What an amount has beyond the decimals is rounded away.
func Cut(amount exact.Num, weights []exact.Num, decimals int) (parts []exact.Num, shaped bool) {
	if len(weights) != 12 {
		return cut(amount, weights, decimals)
	}
	quarters := make([]exact.Num, 4)
	for i, w := range weights {
		if w.Sign() > 0 {
			quarters[i/3] = quarters[i/3].Add(w)
		}
	}
	whole, shaped := cut(amount, quarters, decimals)
	for q, of := range whole {
		months, _ := cut(of, weights[q*3:q*3+3], decimals)
		parts = append(parts, months...)
	}
	return parts, shaped
}

func cut(amount exact.Num, weights []exact.Num, decimals int) (parts []exact.Num, shaped bool) {
	scale := int64(1)
	for range decimals {
		scale *= 10
	}
	total := exact.Num{}
	for _, w := range weights {
		if w.Sign() > 0 {
			total = total.Add(w)
		}
	}
	shaped = total.Sign() > 0
	units, _ := amount.Round(decimals).Scaled(scale)
	parts = make([]exact.Num, len(weights))
	order := make([]int, len(weights))
	lost := make([]exact.Num, len(weights))
	left := units
	for i, w := range weights {
		share := exact.Frac(1, int64(len(weights)))
		if shaped {
			share, _ = w.Quo(total)
			if w.Sign() < 0 {
				share = exact.Num{}
			}
		}
		ideal := exact.Int(units).Mul(share)
		floor := floorOf(ideal)
		parts[i], lost[i], order[i] = exact.Int(floor), ideal.Sub(exact.Int(floor)), i
		left -= floor
	}
	sort.SliceStable(order, func(i, j int) bool { return lost[order[i]].Cmp(lost[order[j]]) > 0 })
	for i := int64(0); i < left; i++ {
		k := order[i%int64(len(order))]
		parts[k] = parts[k].Add(exact.Int(1))
	}
	for i := range parts {
		parts[i] = parts[i].Mul(exact.Frac(1, scale))
	}
	return parts, shaped
}

func floorOf(n exact.Num) int64 {
	near, _ := n.Round(0).Scaled(1)
	if exact.Int(near).Cmp(n) > 0 {
		near--
	}
	return near
}
