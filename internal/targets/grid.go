package targets

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/target"
	"uzzel/core/typed"
	"uzzel/internal/aims"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Grid is a measure's targets of one year, from the organisation's fiscal month on.
type Grid struct {
	Measure aims.Measure
	Year    int // that the first month is in
	Months  []string
	Quarter int // the quarter of it that today is in, or the first
	Version int
	Rows    []GridRow
}

// GridRow is what is set for one scope: amounts as text, empty where nothing is set. Quarters and Year are sums of what
// is set; Below is what those within it add up to in the year where it has no target of its own.
type GridRow struct {
	Scope    target.Scope
	Name     string
	Depth    int
	Months   []string
	Quarters []string
	Year     string
	Below    string
}

// firstMonth is the first month of the year that a grid shows.
func firstMonth(v *answers.View, year int) target.Month {
	return target.Month(year*12 + max(1, v.Snap.Schema.Settings.FiscalMonth) - 1)
}

// ThisYear is the year whose targets are in force today.
func ThisYear(v *answers.View) int {
	y, _, _ := period.Civil(v.Day)
	if target.MonthOf(v.Day) < firstMonth(v, y) {
		y--
	}
	return y
}

// Grid gives a measure's targets of a year, of everyone, each team and each person.
func (t *Targets) Grid(v *answers.View, key string, year int) (*Grid, error) {
	if err := maySet(v); err != nil {
		return nil, err
	}
	m := v.Aims.Measure(key)
	if m == nil {
		return nil, fault.New(fault.NotFound, "", "There is no such measure.")
	}
	if year < 1970 || year > 2200 {
		return nil, fault.New(fault.Invalid, "/year", "Targets are set for the years 1970 to 2200.")
	}
	bound, err := v.Bind(m.Brief)
	if err != nil {
		return nil, err
	}
	g := &Grid{Measure: *m, Year: year, Version: m.Version}
	first := firstMonth(v, year)
	if now := target.MonthOf(v.Day) - first; now >= 0 && now < 12 {
		g.Quarter = int(now) / 3
	}
	for i := range target.Month(12) {
		g.Months = append(g.Months, brief.MonthWords((first + i).Span().From))
	}
	tree, write := aims.Tree(v.Snap), amountWriter(v, bound)
	var add func(s target.Scope, depth int)
	add = func(s target.Scope, depth int) {
		g.Rows = append(g.Rows, gridRow(v, m.Key, s, tree, depth, first, write))
		for _, k := range tree(s) {
			add(k, depth+1)
		}
	}
	add(target.Scope{}, 0)
	return g, nil
}

// amountWriter writes amounts of a measure for people.
func amountWriter(v *answers.View, b *brief.Bound) func(exact.Num) string {
	w, kind, none := v.Writer(), b.Summaries[0].Kind, 0
	return func(n exact.Num) string {
		f := &brief.Format{}
		if n.Cmp(n.Round(0)) == 0 {
			f.Decimals = &none
		}
		return w.Value(kind, result.Value{Set: true, Num: n}, f)
	}
}

func gridRow(
	v *answers.View,
	key string,
	s target.Scope,
	tree target.Tree,
	depth int,
	first target.Month,
	write func(exact.Num) string,
) GridRow {
	row := GridRow{Scope: s, Name: aims.ScopeName(v.Snap, s), Depth: depth}
	year, quarter, any, anyQuarter := exact.Num{}, exact.Num{}, false, false
	for i := range target.Month(12) {
		text := ""
		if n, ok := v.Aims.Book.At(key, s, first+i); ok {
			text = write(n)
			year, quarter, any, anyQuarter = year.Add(n), quarter.Add(n), true, true
		}
		row.Months = append(row.Months, text)
		if i%3 == 2 {
			sum := ""
			if anyQuarter {
				sum = write(quarter)
			}
			row.Quarters = append(row.Quarters, sum)
			quarter, anyQuarter = exact.Num{}, false
		}
	}
	if any {
		row.Year = write(year)
		return row
	}
	span := period.Span{From: first.Span().From, To: (first + 11).Span().To, HasFrom: true, HasTo: true}
	if below := v.Aims.Book.Sum(key, tree(s), tree, span); below.Set {
		row.Below = write(below.Amount)
	}
	return row
}

// Ways to cut an amount into months.
const (
	Evenly   = "even"
	LastYear = "last_year" // as the measure came in a year before
)

// Setting is what an administrator sets for a scope: an amount for one, three or twelve months from one on, cut into
// months; or, to take it back, each month's amount (empty for none).
type Setting struct {
	Scope   target.Scope
	Year    int
	From    int // 0 to 11: the month in the grid of the year
	Months  int // 1, 3 or 12
	Amount  string
	Cut     string
	Amounts []string
	Version int // of the measure's targets that was read
}

// Set sets targets and gives what was set before, month by month, so that it can be taken back, and a note on
// how the amount was cut, and the version that the targets have now.
func (t *Targets) Set(
	ctx context.Context,
	v *answers.View,
	key string,
	in Setting,
) (before []string, note string, version int, err error) {
	if err := maySet(v); err != nil {
		return nil, "", 0, err
	}
	m := v.Aims.Measure(key)
	if m == nil {
		return nil, "", 0, fault.New(fault.NotFound, "", "There is no such measure.")
	}
	if in.Year < 1970 || in.Year > 2200 || in.From < 0 || in.Months < 1 || in.From+in.Months > 12 {
		return nil, "", 0, fault.New(fault.Invalid, "/from", "A target is for one or more months of one year.")
	}
	subject, err := subject(v, in.Scope)
	if err != nil {
		return nil, "", 0, err
	}
	first := firstMonth(v, in.Year) + target.Month(in.From)
	amounts := in.Amounts
	if len(amounts) == 0 {
		if amounts, note, err = cut(ctx, v, m, in, first); err != nil {
			return nil, "", 0, err
		}
	}
	if len(amounts) != in.Months {
		return nil, "", 0, fault.New(
			fault.Invalid,
			"/amounts",
			"There are %d amounts for %d months.",
			len(amounts),
			in.Months,
		)
	}
	var list []store.Target
	for i, text := range amounts {
		month := first + target.Month(i)
		was := ""
		if n, ok := v.Aims.Book.At(key, in.Scope, month); ok {
			was = n.Fixed(2)
		}
		before = append(before, was)
		if text != "" {
			n, err := amountOf(text)
			if err != nil {
				return nil, "", 0, err
			}
			text = n.Fixed(2)
		}
		list = append(
			list,
			store.Target{Measure: key, Kind: in.Scope.Kind, Subject: subject, Month: int(month), Amount: text},
		)
	}
	if err := t.store.SetTargets(ctx, v.Who.ID, key, list, in.Version); err != nil {
		return nil, "", 0, fault.FromStore(err, "grid of targets")
	}
	t.changed(ctx)
	if now := t.aims.Now().Measure(key); now != nil {
		version = now.Version
	}
	return before, note, version, nil
}

// subject checks that a scope exists, and gives its number.
func subject(v *answers.View, s target.Scope) (int64, error) {
	if s.Kind == "" && s.ID == "" {
		return 0, nil
	}
	id, err := strconv.ParseInt(s.ID, 10, 64)
	if err != nil || (s.Kind != target.Team && s.Kind != target.Person) || aims.ScopeName(v.Snap, s) == "" {
		return 0, fault.New(fault.NotFound, "", "There is no such team or person.")
	}
	return id, nil
}

// maxTarget is the largest target of a month.
var maxTarget = exact.Int(1_000_000_000_000)

// amountOf reads an amount as people write it: "1,250,000", "€ 40 000.50", "20k", "1.5m".
func amountOf(text string) (exact.Num, error) {
	plain, ok := typed.Number(strings.Join(strings.Fields(text), ""))
	n, _ := exact.Parse(plain)
	switch {
	case !ok || strings.Contains(text, "%"):
		return n, fault.New(
			fault.Invalid,
			"/amount",
			"“%.40s” is no amount; write for example 40000, 40,000.50 or 40k.",
			text,
		)
	case n.Sign() < 0:
		return n, fault.New(fault.Invalid, "/amount", "A target is not below nothing.")
	case n.Cmp(maxTarget) > 0:
		return n, fault.New(fault.Invalid, "/amount", "A target is at most a million million.")
	}
	return n.Round(2), nil
}

// cut cuts a setting's amount into its months.
func cut(
	ctx context.Context,
	v *answers.View,
	m *aims.Measure,
	in Setting,
	first target.Month,
) ([]string, string, error) {
	amounts := make([]string, in.Months)
	if strings.TrimSpace(in.Amount) == "" {
		return amounts, "", nil
	}
	amount, err := amountOf(in.Amount)
	if err != nil {
		return nil, "", err
	}
	weights := make([]exact.Num, in.Months)
	switch in.Cut {
	case "", Evenly:
	case LastYear:
		if weights, err = cameIn(ctx, v, m, in.Scope, first-12, in.Months); err != nil {
			return nil, "", err
		}
	default:
		return nil, "", fault.New(fault.Invalid, "/cut", "A target is cut evenly or by last year's shape.")
	}
	bound, err := v.Bind(m.Brief)
	if err != nil {
		return nil, "", err
	}
	decimals := 2
	if fn := bound.Summaries[0].Source.Fn; fn == "count" || fn == "filled" || fn == "distinct" {
		decimals = 0
	}
	parts, shaped := target.Cut(amount, weights, decimals)
	for i, p := range parts {
		amounts[i] = p.Fixed(2)
	}
	note := ""
	if in.Cut == LastYear && !shaped && in.Months > 1 {
		note = fmt.Sprintf(
			"%s had nothing in these months a year before, so that the target is cut evenly.",
			aims.ScopeName(v.Snap, in.Scope),
		)
	}
	return amounts, note, nil
}

// cameIn is what a measure came to for a scope in each of some months.
func cameIn(
	ctx context.Context,
	v *answers.View,
	m *aims.Measure,
	s target.Scope,
	first target.Month,
	months int,
) ([]exact.Num, error) {
	text, err := json.Marshal(m.Brief)
	if err != nil {
		return nil, err
	}
	b, err := brief.Decode(text)
	if err != nil {
		return nil, err
	}
	switch s.Kind {
	case target.Team:
		b.Whose = &brief.Whose{Teams: []string{s.ID}}
	case target.Person:
		b.Whose = &brief.Whose{People: []string{s.ID}}
	}
	span := period.Span{
		From:    first.Span().From,
		To:      (first + target.Month(months) - 1).Span().To,
		HasFrom: true,
		HasTo:   true,
	}
	b.Period.Within = brief.Period{Period: period.Period{From: period.FormatDay(span.From), To: period.FormatDay(span.To)}}
	b.Groups = []brief.Group{{Field: b.Period.Field, By: period.ByMonth, Every: true}}
	b.TotalsOnly = true
	bound, err := v.Bind(b)
	if err != nil {
		return nil, err
	}
	r, err := v.Numbers(ctx, bound)
	if err != nil {
		return nil, err
	}
	out := make([]exact.Num, months)
	for i, row := range result.Innermost(r.Rows, 1) {
		if i < months {
			out[i] = r.Cell(row, 0).Plain[0].Num
		}
	}
	return out, nil
}
