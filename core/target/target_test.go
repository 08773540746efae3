package target_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/target"
)

func num(t *testing.T, s string) exact.Num {
	t.Helper()
	n, ok := exact.Parse(s)
	require.True(t, ok, s)
	return n
}

func fixed(parts []exact.Num) []string {
	var out []string
	for _, p := range parts {
		out = append(out, p.Fixed(2))
	}
	return out
}

func TestCut(t *testing.T) {
	for _, c := range []struct {
		name    string
		amount  string
		weights []string
		want    []string
		shaped  bool
	}{
		{"a year evenly into quarters", "100", []string{"0", "0", "0"}, []string{"33.34", "33.33", "33.33"}, false},
		{"by last year's shape", "1000", []string{"1", "3", "4"}, []string{"125.00", "375.00", "500.00"}, true},
		{"what is left over goes to the parts that lost most", "0.05", []string{"1", "1", "2"}, []string{"0.01", "0.01", "0.03"}, true},
		{"below nothing counts as nothing", "90", []string{"-5", "1", "2"}, []string{"0.00", "30.00", "60.00"}, true},
		{"one cent over twelve months", "0.01", make([]string, 12), []string{"0.01", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00", "0.00"}, false},
	} {
		weights := make([]exact.Num, len(c.weights))
		for i, w := range c.weights {
			if w != "" {
				weights[i] = num(t, w)
			}
		}
		parts, shaped := target.Cut(num(t, c.amount), weights, 2)
		assert.Equal(t, c.want, fixed(parts), c.name)
		assert.Equal(t, c.shaped, shaped, c.name)
	}
}

// A year's even target has even quarters, and counts are cut into whole ones.
func TestCutOfAYear(t *testing.T) {
	parts, shaped := target.Cut(num(t, "4000000"), make([]exact.Num, 12), 2)
	assert.False(t, shaped)
	for q := range 4 {
		assert.Equal(t, []string{"333333.34", "333333.33", "333333.33"}, fixed(parts[q*3:q*3+3]))
	}
	counts, _ := target.Cut(num(t, "50"), make([]exact.Num, 12), 0)
	assert.Equal(t, []string{"5.00", "4.00", "4.00", "5.00", "4.00", "4.00", "4.00", "4.00", "4.00", "4.00", "4.00", "4.00"}, fixed(counts))
	empty := make([]exact.Num, 12)
	empty[1] = exact.Int(7)
	parts, shaped = target.Cut(num(t, "10"), empty, 2)
	assert.True(t, shaped)
	assert.Equal(t, "10.00", parts[1].Fixed(2), "all in the one month that had something")
}

// Whatever is cut by whatever shape, its parts add up to it.
func TestPartsAddUp(t *testing.T) {
	for amount := int64(0); amount < 3000; amount += 7 {
		weights := make([]exact.Num, 1+amount%12)
		for i := range weights {
			weights[i] = exact.Int(amount * int64(i+3) % 11)
		}
		parts, _ := target.Cut(exact.Frac(amount, 100), weights, 2)
		sum := exact.Num{}
		for _, p := range parts {
			assert.GreaterOrEqual(t, p.Sign(), 0)
			sum = sum.Add(p)
		}
		require.Zero(t, sum.Cmp(exact.Frac(amount, 100)), "%d", amount)
	}
}

var (
	everyone = target.Scope{}
	west     = target.Scope{Kind: target.Team, ID: "1"}
	north    = target.Scope{Kind: target.Team, ID: "2"}
	maite    = target.Scope{Kind: target.Person, ID: "1"}
	aldo     = target.Scope{Kind: target.Person, ID: "3"}
)

func tree(s target.Scope) []target.Scope {
	switch s {
	case everyone:
		return []target.Scope{west, north}
	case west:
		return []target.Scope{maite, aldo}
	}
	return nil
}

func days(from, to int32) period.Span {
	return period.Span{From: from, To: to, HasFrom: true, HasTo: true}
}

func TestSum(t *testing.T) {
	april, may, june := target.MonthOf(period.Day(2026, 4, 1)), target.MonthOf(period.Day(2026, 5, 31)), target.MonthOf(period.Day(2026, 6, 30))
	require.Equal(t, april+1, may)
	book := target.NewBook([]target.Entry{
		{"won", maite, april, num(t, "100")}, {"won", aldo, april, num(t, "50")}, {"won", north, april, num(t, "30")},
		{"won", west, may, num(t, "310")}, {"won", maite, may, num(t, "999")},
		{"won", everyone, june, num(t, "600")}, {"calls", maite, april, num(t, "40")},
	})
	quarter := days(period.Day(2026, 4, 1), period.Day(2026, 6, 30))
	sum := func(measure string, span period.Span, scopes ...target.Scope) target.Sum {
		return book.Sum(measure, scopes, tree, span)
	}

	all := sum("won", quarter, everyone)
	assert.Equal(t, "1090.00", all.Amount.Fixed(2), "people and teams make up April, a team May, everyone's own June")
	assert.False(t, all.ByDays)
	assert.Empty(t, all.Open)

	own := sum("won", quarter, west)
	assert.Equal(t, "460.00", own.Amount.Fixed(2), "what is set for the team goes before its people's")
	assert.Equal(t, []target.Month{june}, own.Open, "what is set for everyone says nothing of a team")

	two := sum("won", quarter, maite, aldo)
	assert.Equal(t, "1149.00", two.Amount.Fixed(2))

	part := sum("won", days(period.Day(2026, 5, 1), period.Day(2026, 5, 10)), west)
	assert.Equal(t, "100.00", part.Amount.Fixed(2), "ten of thirty-one days")
	assert.True(t, part.ByDays)

	none := sum("calls", days(period.Day(2026, 5, 1), period.Day(2026, 5, 31)), maite)
	assert.False(t, none.Set)
}

func TestMonths(t *testing.T) {
	feb := target.MonthOf(period.Day(2028, 2, 29))
	assert.Equal(t, days(period.Day(2028, 2, 1), period.Day(2028, 2, 29)), feb.Span())
	dec := target.MonthOf(period.Day(2026, 12, 1))
	assert.Equal(t, days(period.Day(2026, 12, 1), period.Day(2026, 12, 31)), dec.Span())
}
