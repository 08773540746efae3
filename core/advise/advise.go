// Package advise finds what in a report could mislead its reader, says it in words, and offers what to do: a rolling
// period without today, a day that stands for its start, empty values that conditions leave out, groups that share
// records, averages over next to nothing, conditions that leave nothing.
package advise

import (
	"context"
	"fmt"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Warning is one thing that could mislead. Code names it, so that it can be dismissed for a report.
type Warning struct {
	Code string
	Text string
	// Do is what can be done about it, and Brief the report once it is done; where Show is set, Brief lists the records
	// that the warning is about. Do is empty where there is nothing to do.
	Do    string
	Brief *brief.Brief
	Show  bool
}

// Input is a report with what it came to.
type Input struct {
	Snap   *column.Snapshot
	Bound  *brief.Bound
	Opts   engine.Options
	Result *result.Result
	Sift   []engine.Sifted // of the only part; nil where there are several
	Words  func(at string) string
	Notes  []string // what the drawing leaves out
}

// FewRecords is how many records an average should have at least.
const FewRecords = 4

// Find gives the warnings of a report, the weightiest first.
func Find(ctx context.Context, in Input) ([]Warning, error) {
	a := &adviser{Input: in, ctx: ctx}
	if len(in.Bound.Parts) == 1 {
		a.nothing()
		a.todayLeftOut()
		a.dayCut()
		if err := a.empties(); err != nil {
			return nil, err
		}
	}
	a.retired()
	if err := a.gone(); err != nil {
		return nil, err
	}
	a.overlap()
	a.cut()
	if err := a.fewRecords(); err != nil {
		return nil, err
	}
	return a.list, nil
}

type adviser struct {
	Input
	ctx  context.Context
	list []Warning
}

func (a *adviser) add(code, do string, b *brief.Brief, show bool, format string, args ...any) {
	a.list = append(a.list, Warning{code, fmt.Sprintf(format, args...), do, b, show})
}

func (a *adviser) part() *brief.BoundPart { return a.Bound.Parts[0] }

// records says a number of the starting records: "1 deal", "1,240 deals".
func (a *adviser) records(n int64) string { return brief.Counted(a.part().Start(), n) }

// retired says which fields are offered no more.
func (a *adviser) retired() {
	for _, f := range a.Bound.Retired {
		a.add("retired "+f.Key, "", nil, false,
			"%s is retired: it is kept as long as reports read it, and not filled in any more.", f.Label)
	}
}

// gone says how many records the state of an earlier day lacks, as they were deleted since, for good.
func (a *adviser) gone() error {
	day, _, err := a.Bound.Days(a.Opts.Today)
	if err != nil || day == a.Opts.Today {
		return err
	}
	for _, p := range a.Bound.Parts {
		n, err := a.Snap.LostSince(p.Start().Key, day)
		if err != nil {
			return err
		}
		if n > 0 {
			a.add("gone", "", nil, false, "%s of then %s deleted since, for good. What was counted then lacks %s.",
				brief.Counted(p.Start(), int64(n)),
				map[bool]string{true: "was", false: "were"}[n == 1],
				map[bool]string{true: "it", false: "them"}[n == 1])
		}
	}
	return nil
}

// nothing names the condition that leaves no record.
func (a *adviser) nothing() {
	if a.Result.Records > 0 || len(a.Sift) == 0 {
		return
	}
	for i, s := range a.Sift {
		if i == 0 || s.Left > 0 {
			continue
		}
		b := without(a.Bound.Brief, s)
		a.add(
			"nothing "+s.At,
			"Take it out",
			b,
			false,
			"Nothing is left after “%s”: it takes out the last %s.",
			a.Words(s.At),
			a.records(s.Out),
		)
		return
	}
}

// without is a brief without one of its conditions.
func without(b *brief.Brief, s engine.Sifted) *brief.Brief {
	out := *b
	switch s.What {
	case "whose":
		out.Whose = nil
	case "period":
		out.Period, out.Compare = nil, ""
	default:
		out.Filter = replaced(b.Filter, s.At, nil)
	}
	return &out
}

// refiltered is a brief with one of its conditions replaced by another.
func refiltered(b *brief.Brief, at string, by *brief.Tree) *brief.Brief {
	out := *b
	out.Filter = replaced(b.Filter, at, by)
	return &out
}

// replaced is a filter with the top-level condition at a pointer replaced by another, or taken out.
func replaced(f *brief.Tree, at string, by *brief.Tree) *brief.Tree {
	if f == nil || f.All == nil {
		return by
	}
	out := brief.Tree{All: []brief.Tree{}}
	for i, k := range f.All {
		switch {
		case at != fmt.Sprintf("/filter/all/%d", i):
			out.All = append(out.All, k)
		case by != nil:
			out.All = append(out.All, *by)
		}
	}
	return &out
}

// dayCut warns of conditions on a time that are given a day: a day stands for its start (docs/brief.md, "Conditions"),
// so that up to it leaves it out, and after it takes it in.
func (a *adviser) dayCut() {
	b, filter := a.Bound.Brief, a.part().Filter
	if b.Filter == nil || len(b.Filter.All) == 0 {
		return
	}
	for i, k := range b.Filter.All {
		if len(k.Values) == 0 || filter.Kids[i].Value == nil || filter.Kids[i].Value.Kind != schema.Time {
			continue
		}
		last := len(k.Values) - 1
		day, err := period.ParseDay(k.Values[last])
		if err != nil {
			continue
		}
		fixed, next := k, []string{period.FormatDay(day + 1)}
		says, do := "“%s” ends as %s begins, so that day is not in it.", "Take that day in"
		switch k.Is {
		case "at_most":
			fixed.Is, fixed.Values = "under", next
		case "between":
			fixed.Values = []string{k.Values[0], k.Values[last] + "T23:59:59"}
		case "over":
			fixed.Is, fixed.Values = "at_least", next
			says, do = "“%s” begins as %s begins, so that day is in it.", "Begin after that day"
		default:
			continue
		}
		at := fmt.Sprintf("/filter/all/%d", i)
		a.add("day "+at, do, refiltered(b, at, &fixed), false, says, a.Words(at), brief.DayWords(day))
	}
}

func withoutToday(p period.Period) bool { return (p.Last > 0 || p.Next > 0) && !p.Current }

// todayLeftOut warns of rolling periods that end before today or begin after it.
func (a *adviser) todayLeftOut() {
	b, cal := a.Bound.Brief, a.Bound.Cal
	if p := b.Period; p != nil && withoutToday(p.Within.Period) {
		fixed := *b
		with := *p
		with.Within.Current = true
		fixed.Period = &with
		span := cal.Resolve(p.Within.Period, a.Opts.Today)
		a.add(
			"today /period",
			"Count today too",
			&fixed,
			false,
			"Today is not in the period: it is %s.",
			brief.SpanWords(span),
		)
	}
	if b.Filter == nil {
		return
	}
	for i, k := range b.Filter.All {
		if k.Period != nil && withoutToday(k.Period.Period) {
			at := fmt.Sprintf("/filter/all/%d", i)
			with := *k.Period
			with.Current = true
			k.Period = &with
			a.add("today "+at, "Count today too", refiltered(b, at, &k), false, "Today is not in “%s”.", a.Words(at))
		}
	}
}

// listOf is a brief that lists the starting records of a part that meet conditions.
func listOf(b *brief.Brief, f *brief.Tree) *brief.Brief {
	out := &brief.Brief{Version: brief.Version, Part: b.Part, Money: b.Money}
	out.Period, out.Filter, out.Summaries = nil, f, nil
	return out
}

func (a *adviser) count(b *brief.Brief) (int64, error) {
	bound, err := brief.Bind(b, a.Snap.Schema)
	if err != nil {
		return 0, err
	}
	r, err := engine.Run(a.ctx, a.Snap, bound, a.Opts)
	if err != nil {
		return 0, err
	}
	return r.Records, nil
}

func also(f *brief.Tree, more ...brief.Tree) *brief.Tree {
	out := &brief.Tree{All: append([]brief.Tree{}, more...)}
	switch {
	case f == nil:
	case f.All != nil:
		out.All = append(append([]brief.Tree{}, f.All...), more...)
	default:
		out.All = append([]brief.Tree{*f}, more...)
	}
	return out
}

// empties counts the records that the period and conditions leave out only because they have no value, or are not
// marked.
func (a *adviser) empties() error {
	b := a.Bound.Brief
	if b.Bring != nil {
		return nil
	}
	if b.Period != nil {
		list := listOf(b, also(b.Filter, brief.Tree{Field: b.Period.Field, Is: "empty"}))
		n, err := a.count(list)
		if err != nil {
			return err
		}
		if n > 0 {
			a.add(
				"empty /period",
				"Show them",
				list,
				true,
				"In %s %s is empty, so no period finds %s.",
				a.records(n),
				a.field(a.part().Period.Value),
				them(n),
			)
		}
	}
	if b.Filter == nil || b.Filter.All == nil {
		return nil
	}
	for i, k := range a.part().Filter.Kids {
		at, missing, words := fmt.Sprintf("/filter/all/%d", i), brief.Tree{Field: k.Source.Field}, ""
		switch {
		case k.Op != brief.OnField || k.Other != nil:
			continue
		case k.Value.Kind == schema.YesNo && k.Is == "any_of" && len(k.Source.Values) == 1 && k.Source.Values[0] == "true":
			missing.Is, missing.Values, words = "none_of", []string{"true"}, "not marked "
		case k.Is == "under" || k.Is == "at_most" || k.Is == "over" || k.Is == "at_least" || k.Is == "between" || k.Is == "within":
			missing.Is = "empty"
		default:
			continue
		}
		list := listOf(b, replaced(b.Filter, at, &missing))
		list.Period = b.Period
		n, err := a.count(list)
		if err != nil {
			return err
		}
		switch {
		case n == 0:
		case words != "":
			a.add(
				"unmarked "+at,
				"Show them",
				list,
				true,
				"%s %s not marked %s and so %s left out.",
				a.records(n),
				are(n),
				a.field(k.Value),
				are(n),
			)
		default:
			a.add(
				"empty "+at,
				"Show them",
				list,
				true,
				"In %s %s is empty, so “%s” leaves %s out.",
				a.records(n),
				a.field(k.Value),
				a.Words(at),
				them(n),
			)
		}
	}
	return nil
}

func (a *adviser) field(v *brief.Value) string { return brief.ValueWords(v) }

func are(n int64) string {
	if n == 1 {
		return "is"
	}
	return "are"
}

func them(n int64) string {
	if n == 1 {
		return "it"
	}
	return "them"
}

func (a *adviser) overlap() {
	for i, o := range a.Result.Overlap {
		if o {
			g := a.Bound.Groups[i]
			a.add(
				"overlap",
				"",
				nil,
				false,
				"A record can be in several groups of %s, so the groups add up to more than their total. The total counts each record once.",
				brief.GroupLabel(g),
			)
			return
		}
	}
}

func (a *adviser) cut() {
	for _, n := range a.Notes {
		a.add("cut "+n, "", nil, false, "%s", n)
	}
}

// fewRecords warns of averages and medians over fewer than FewRecords values.
func (a *adviser) fewRecords() error {
	var averages []*brief.BoundSummary
	for _, s := range a.Bound.Summaries {
		if s.Source.Fn == "average" || s.Source.Fn == "median" {
			averages = append(averages, s)
		}
	}
	if len(averages) == 0 || len(a.Bound.Groups) == 0 || len(a.Bound.Brief.Parts) > 0 {
		return nil
	}
	b := *a.Bound.Brief
	b.Compare, b.Target, b.Chart, b.Columns, b.Order, b.Limit = "", "", nil, nil, nil, nil
	b.Summaries = append([]brief.Summary{}, a.Bound.Brief.Summaries...)
	first := len(b.Summaries)
	for i, s := range averages {
		b.Summaries = append(
			b.Summaries,
			brief.Summary{Key: fmt.Sprintf("zz_filled_%d", i), Fn: "filled", Of: s.Source.Of, Where: s.Source.Where},
		)
	}
	bound, err := brief.Bind(&b, a.Snap.Schema)
	if err != nil {
		return nil // a summary of its own that cannot be counted so
	}
	r, err := engine.Run(a.ctx, a.Snap, bound, a.Opts)
	if err != nil {
		return err
	}
	few := map[int]int{}
	for n := 1; n < len(r.Rows); n++ {
		for i := range averages {
			if v := r.Cell(n, 0).Plain[first+i]; v.Set && v.Num.Sign() > 0 && v.Num.Cmp(exact.Int(FewRecords)) < 0 {
				few[i]++
			}
		}
	}
	places := make([]int, 0, len(few))
	for i := range few {
		places = append(places, i)
	}
	sort.Ints(places)
	for _, i := range places {
		groups := "groups"
		if few[i] == 1 {
			groups = "group"
		}
		a.add(
			"few "+averages[i].Source.Key,
			"",
			nil,
			false,
			"%s is over three records or fewer in %d %s.",
			brief.SummaryLabel(a.Bound, averages[i]),
			few[i],
			groups,
		)
	}
	return nil
}
