package difftest

import (
	"context"
	"encoding/json"
	"fmt"
	"math/big"
	"math/rand/v2"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// rate is what a currency is worth from a day on.
type rate struct{ currency, day, units, worth string }

// ratedBy are the dates at whose rates amounts are converted, where a brief names no others, by hand.
var ratedBy = map[string][]string{"deals": {"closed", "expected_close"}, "lines": {"deal.closed", "deal.expected_close"}, "products": {}}

var foreign = []string{"NOK", "SEK"}

// newRates makes rates for all days that records have, or, where there are to be holes, for some of them.
func newRates(r *rand.Rand, holes bool) []rate {
	var list []rate
	for _, c := range foreign {
		for day := date("2024-01-01"); text(day) < "2026-07-01"; day = day.AddDate(0, 0, 5+r.IntN(25)) {
			if holes && r.IntN(3) == 0 {
				continue
			}
			// Amounts stay multiples of half a cent here; TestConverted is about cents.
			pair := [][2]string{{"1", "2"}, {"1", "3"}, {"2", "1"}, {"0.5", "2"}, {"4", "2"}}[r.IntN(5)]
			list = append(list, rate{c, text(day), pair[0], pair[1]})
			if r.IntN(8) == 0 { // entered again
				list = append(list, rate{c, text(day), "1", strconv.Itoa(1 + r.IntN(3))})
			}
		}
	}
	r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	return list
}

// currency is that of a record's amounts.
func (w *world) currency(ty, id string) string {
	if ty == "lines" {
		if id = w.link(ty, id, "deal"); id == "" {
			return "EUR"
		}
		ty = "deals"
	}
	return or(w.vals[ty][id]["currency"], "EUR")
}

// converted is an amount in euros, in cents; false where there is no rate for it.
func (w *world) converted(ty, id, amount string) (int64, bool) {
	cents, ok := new(big.Rat).SetString(amount)
	if !ok {
		panic(amount)
	}
	cents.Mul(cents, big.NewRat(100, 1))
	currency := w.currency(ty, id)
	if currency == "EUR" {
		return roundAway(cents), true
	}
	dates, said := w.rated[ty]
	if !said {
		dates = ratedBy[ty]
	}
	day := or(w.day, today)
	for _, path := range dates {
		v := w.vals[ty][id][path]
		if rest, deep := cut(path, "deal."); deep {
			v = w.vals["deals"][w.link("lines", id, "deal")][rest]
		}
		if v == "" {
			continue
		}
		if len(v) > 10 {
			v = localDay(v)
		}
		day = min(day, v)
		break
	}
	best := rate{}
	for _, r := range w.rates {
		if r.currency == currency && r.day <= day && r.day >= best.day {
			best = r
		}
	}
	if best.day == "" || date(best.day).AddDate(0, 0, 35).Before(date(day)) {
		return 0, false
	}
	units, _ := new(big.Rat).SetString(best.units)
	worth, _ := new(big.Rat).SetString(best.worth)
	return roundAway(cents.Mul(cents, worth.Quo(worth, units))), true
}

func cut(s, prefix string) (string, bool) {
	if len(s) > len(prefix) && s[:len(prefix)] == prefix {
		return s[len(prefix):], true
	}
	return s, false
}

func roundAway(r *big.Rat) int64 {
	n := new(big.Int).Mul(r.Num(), big.NewInt(2))
	d := new(big.Int).Mul(r.Denom(), big.NewInt(2))
	if r.Sign() < 0 {
		n.Sub(n, r.Denom())
	} else {
		n.Add(n, r.Denom())
	}
	return n.Quo(n, d).Int64()
}

// loadRates gives the exchange rates to the engine.
func (w *world) loadRates(b *column.Builder) error {
	for i, r := range w.rates {
		b.Row(strconv.Itoa(i + 1))
		for k := range b.Type.Fields {
			text := map[string]string{"currency": r.currency, "day": r.day, "units": r.units, "worth": r.worth}[b.Type.Fields[k].Key]
			if err := b.Set(k, text); err != nil {
				return err
			}
		}
	}
	return nil
}

// told is whether something is so, where it can be told.
type told int

const (
	no told = iota
	unknown
	yes
)

// test is a random condition over deals, with what it is for one of them.
type test struct {
	tree obj
	of   func(id string) told
}

type unratedMaker struct {
	r *rand.Rand
	w *world
}

// value is a deal's amount as the report reads it: in cents, whether it has one, and whether there is a rate.
func (m *unratedMaker) value(id, field string) (cents int64, filled, rated bool) {
	text := m.w.vals["deals"][id][field]
	if field == "weighted" {
		text = m.w.worked("deals", id, field)
	}
	if text == "" {
		return 0, false, true
	}
	v, ok := m.w.converted("deals", id, text)
	return v, true, ok
}

func truly(b bool) told {
	if b {
		return yes
	}
	return no
}

func (m *unratedMaker) test(deep int) test {
	if deep > 0 && m.r.IntN(2) == 0 {
		kids := []test{m.test(deep - 1), m.test(deep - 1)}
		trees := []any{kids[0].tree, kids[1].tree}
		switch m.r.IntN(3) {
		case 0:
			return test{obj{"all": trees}, func(id string) told { return min(kids[0].of(id), kids[1].of(id)) }}
		case 1:
			return test{obj{"any": trees}, func(id string) told { return max(kids[0].of(id), kids[1].of(id)) }}
		}
		return test{obj{"not": kids[0].tree}, func(id string) told { return yes - kids[0].of(id) }}
	}
	field := []string{"value", "value", "weighted"}[m.r.IntN(3)]
	switch m.r.IntN(4) {
	case 0:
		return test{obj{"field": "kind", "is": "any_of", "values": []any{"Refit"}}, func(id string) told {
			return truly(m.w.vals["deals"][id]["kind"] == "Refit")
		}}
	case 1:
		return test{obj{"field": field, "is": "filled"}, func(id string) told {
			_, filled, rated := m.value(id, field)
			if !rated {
				return unknown
			}
			return truly(filled)
		}}
	}
	edge := int64(m.r.IntN(8000))
	return test{obj{"field": field, "is": "over", "values": []any{strconv.FormatInt(edge, 10)}}, func(id string) told {
		v, filled, rated := m.value(id, field)
		if !rated {
			return unknown
		}
		return truly(filled && v > edge*100)
	}}
}

// ask runs a brief and gives what it counts, adds up and leaves out.
func (m *unratedMaker) ask(t *testing.T, snap *column.Snapshot, b obj) (count, sum string, unrated, listed int64) {
	t.Helper()
	m.w.money(b)
	data, err := json.Marshal(b)
	require.NoError(t, err)
	decoded, err := brief.Decode(data)
	require.NoError(t, err, string(data))
	bound, err := brief.Bind(decoded, snap.Schema)
	require.NoError(t, err, string(data))
	day, err := period.ParseDay(today)
	require.NoError(t, err)
	r, err := engine.Run(context.Background(), snap, bound, engine.Options{Today: day})
	require.NoError(t, err, string(data))
	totals := r.Totals().Rows[0]
	l, err := engine.List(context.Background(), snap, bound, engine.Options{Today: day})
	require.NoError(t, err, string(data))
	require.Equal(t, r.Unrated, l.Unrated, string(data))
	sifted, err := engine.Sift(context.Background(), snap, bound, engine.Options{Today: day}, 0)
	require.NoError(t, err)
	if last := sifted[len(sifted)-1]; r.Unrated > 0 {
		require.Equal(t, "rates", last.What)
		require.Equal(t, r.Unrated, last.Out, string(data))
	}
	return totals[0], totals[1], r.Unrated, int64(l.Len())
}

// TestUnrated asks random conditions over amounts of which some have no rate, and tells of each record by itself whether
// it counts: what cannot be told for want of a rate is left out, and only that.
func TestUnrated(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	left := int64(0)
	for i := range uint64(*many / 8) {
		r := rand.New(rand.NewPCG(*seed+3, i))
		w := newWorld(t, *seed*31+i/20)
		w.foreign, w.rates = true, newRates(r, true)
		for _, id := range w.ids["deals"] {
			w.vals["deals"][id]["currency"] = []string{"", "EUR", "NOK", "SEK", "XAU"}[r.IntN(5)]
		}
		m := &unratedMaker{r, w}
		snap := column.NewSnapshot(s, w)
		cond, narrow := m.test(3), m.test(1)

		// Deals: the sum of their value, of those that meet another condition.
		count, sum, want := 0, int64(0), int64(0)
		for _, id := range w.ids["deals"] {
			v, _, rated := m.value(id, "value")
			switch is, in := cond.of(id), narrow.of(id); {
			case is == no:
			case is == unknown || in == unknown || !rated:
				want++
			default:
				count++
				if in == yes {
					sum += v
				}
			}
		}
		b := obj{"version": 1, "start": "deals", "filter": cond.tree, "summaries": []any{
			obj{"key": "n", "fn": "count"}, obj{"key": "v", "fn": "sum", "of": "value", "where": narrow.tree}}}
		gotCount, gotSum, unrated, listed := m.ask(t, snap, b)
		require.Equal(t, fmt.Sprint(count), gotCount, "%v", b)
		require.Equal(t, want, unrated, "%v", b)
		require.EqualValues(t, count, listed)
		require.InDelta(t, float64(sum)/100, number(gotSum), 0.001, "%v", b)
		left += unrated

		// Customers: at least so many deals that meet the condition, and the sum of theirs.
		need := 1 + r.IntN(2)
		none := r.IntN(3) == 0
		count, sum, want = 0, 0, 0
		for _, id := range w.ids["customers"] {
			known, could, total, rates := 0, 0, int64(0), true
			for _, deal := range w.ids["deals"] {
				if w.link("deals", deal, "customer") != id {
					continue
				}
				is := cond.of(deal)
				known += int(is / yes)
				could += min(1, int(is))
				if is == yes {
					v, _, rated := m.value(deal, "value")
					total, rates = total+v, rates && rated
				}
				rates = rates && is != unknown
			}
			is := truly(known >= need)
			if (known >= need) != (could >= need) {
				is = unknown
			}
			if none {
				is = truly(known == 0)
				if (known == 0) != (could == 0) {
					is = unknown
				}
			}
			switch {
			case is == no:
			case is == unknown || !rates:
				want++
			default:
				count, sum = count+1, sum+total
			}
		}
		link := obj{"link": "deals", "is": "some", "at_least": need, "where": cond.tree}
		if none {
			link = obj{"link": "deals", "is": "none", "where": cond.tree}
		}
		b = obj{"version": 1, "start": "customers", "filter": link,
			"own":       []any{obj{"key": "theirs", "linked": obj{"link": "deals", "fn": "sum", "of": "value", "where": cond.tree}}},
			"summaries": []any{obj{"key": "n", "fn": "count"}, obj{"key": "v", "fn": "sum", "of": "own.theirs"}}}
		gotCount, gotSum, unrated, listed = m.ask(t, snap, b)
		require.Equal(t, fmt.Sprint(count), gotCount, "%v", b)
		require.Equal(t, want, unrated, "%v", b)
		require.EqualValues(t, count, listed)
		require.InDelta(t, float64(sum)/100, number(gotSum), 0.001, "%v", b)
		left += unrated
		require.NoError(t, w.db.Close())
	}
	require.NotZero(t, left)
}

func number(text string) float64 {
	if text == "" {
		return 0
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil {
		panic(err)
	}
	return v
}

// money has a brief convert by the dates that the world goes by.
func (w *world) money(b obj) {
	if w.rated == nil {
		return
	}
	var list []any
	for _, of := range []string{"deals", "lines"} {
		if at, said := w.rated[of]; said {
			list = append(list, obj{"of": of, "at": at})
		}
	}
	b["money"] = obj{"rates": list}
}
