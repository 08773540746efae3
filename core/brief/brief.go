// Package brief is the definition of a report: the open format of docs/brief.md, how it is read and written, checked
// against a schema and said as a sentence. It computes no numbers.
package brief

import (
	"cmp"
	"encoding/json"

	"uzzel/core/period"
)

// Version is the version of the format that this package reads and writes.
const Version = 1

// Brief is a report's definition. It has either Part's members (one record type) or Parts (several side by side).
type Brief struct {
	Version int `json:"version"`
	Part
	Parts      []Part   `json:"parts,omitempty"`
	Columns    []Column `json:"columns,omitempty"`
	Order      []Order  `json:"order,omitempty"`
	Limit      *int     `json:"limit,omitempty"`
	Groups     []Group  `json:"groups,omitempty"`
	Across     []Group  `json:"across,omitempty"`
	Blank      *bool    `json:"blank,omitempty"`
	TotalsOnly bool     `json:"totalsOnly,omitempty"`
	Compare    string   `json:"compare,omitempty"`
	Target     string   `json:"target,omitempty"`
	TargetOf   string   `json:"targetOf,omitempty"`
	Chart      *Chart   `json:"chart,omitempty"`
	// AsOf has the brief answered by the records of a day, Since tells what moved from a day on, and Periods says whose
	// relative periods are meant: today's, or, where it is Then, those of the day (docs/brief.md, "Over time").
	AsOf    *Moment `json:"asOf,omitempty"`
	Since   *Moment `json:"since,omitempty"`
	Periods string  `json:"periods,omitempty"`
	// Money says in which currency amounts are.
	Money *Money `json:"money,omitempty"`
}

// Part is the question about one record type.
type Part struct {
	Key       string      `json:"key,omitempty"`
	Start     string      `json:"start,omitempty"`
	Bring     *Bring      `json:"bring,omitempty"`
	Whose     *Whose      `json:"whose,omitempty"`
	Period    *MainPeriod `json:"period,omitempty"`
	Filter    *Tree       `json:"filter,omitempty"`
	Own       []Own       `json:"own,omitempty"`
	Summaries []Summary   `json:"summaries,omitempty"`
	// Fixed are conditions that the report's owner fixed and this reader does not see (Compose); no JSON has them.
	Fixed *Tree `json:"-"`
}

// Bring adds a row for each record over a link to many.
type Bring struct {
	Link      string `json:"link"`
	Where     *Tree  `json:"where,omitempty"`
	KeepEmpty *bool  `json:"keepEmpty,omitempty"`
	Bring     *Bring `json:"bring,omitempty"`
	Fixed     *Tree  `json:"-"`
}

// Keeps says whether a record without any brought one is kept as a row.
func (b *Bring) Keeps() bool { return b.KeepEmpty == nil || *b.KeepEmpty }

// Whose narrows rows to the owners of the starting records: a word (everyone, mine, team), or people and teams by id.
type Whose struct {
	Word   string
	People []string
	Teams  []string
}

// MarshalJSON writes the word alone, or the lists.
func (w Whose) MarshalJSON() ([]byte, error) {
	if w.Word != "" {
		return json.Marshal(w.Word)
	}
	return json.Marshal(struct {
		People []string `json:"people,omitempty"`
		Teams  []string `json:"teams,omitempty"`
	}{w.People, w.Teams})
}

// Period wraps period.Period with its JSON form: a word, or an object.
type Period struct{ period.Period }

// MarshalJSON writes the word alone, or the object.
func (p Period) MarshalJSON() ([]byte, error) {
	if p.Word != "" {
		return json.Marshal(p.Word)
	}
	var out struct {
		Last    int         `json:"last,omitempty"`
		Next    int         `json:"next,omitempty"`
		Unit    period.Unit `json:"unit,omitempty"`
		Current *bool       `json:"current,omitempty"`
		From    string      `json:"from,omitempty"`
		To      string      `json:"to,omitempty"`
	}
	out.Last, out.Next, out.Unit, out.From, out.To = p.Last, p.Next, p.Unit, p.From, p.To
	if (p.Last > 0 || p.Next > 0) && !p.Current {
		out.Current = &p.Current
	}
	return json.Marshal(out)
}

// MainPeriod is the main date condition of a report.
type MainPeriod struct {
	Field  string `json:"field"`
	Within Period `json:"within"`
}

// Tree is one node of a filter: all, any or not of others, or a condition on a field or on a link to many.
type Tree struct {
	All     []Tree   `json:"all,omitempty"`
	Any     []Tree   `json:"any,omitempty"`
	Not     *Tree    `json:"not,omitempty"`
	Field   string   `json:"field,omitempty"`
	Link    string   `json:"link,omitempty"`
	Is      string   `json:"is,omitempty"`
	Values  []string `json:"values,omitempty"`
	Other   string   `json:"other,omitempty"`
	Period  *Period  `json:"period,omitempty"`
	Where   *Tree    `json:"where,omitempty"`
	AtLeast *int     `json:"at_least,omitempty"`
	Ask     bool     `json:"ask,omitempty"`
	Fixed   bool     `json:"fixed,omitempty"`
}

// And is a filter with one more condition that has to hold; t may be nil, and stays as it is.
func (t *Tree) And(more ...Tree) *Tree {
	next := Tree{All: []Tree{}}
	switch {
	case t == nil:
	case t.All != nil:
		next.All = append(next.All, t.All...)
	default:
		next.All = append(next.All, *t)
	}
	next.All = append(next.All, more...)
	return &next
}

// MarshalJSON keeps an empty all or any, which omitempty would drop.
func (t Tree) MarshalJSON() ([]byte, error) {
	if t.All != nil && len(t.All) == 0 {
		return []byte(`{"all":[]}`), nil
	}
	if t.Any != nil && len(t.Any) == 0 {
		return []byte(`{"any":[]}`), nil
	}
	type plain Tree
	return json.Marshal(plain(t))
}

// Own is a field worked out for this report: just one of its ways is set.
type Own struct {
	Key     string  `json:"key"`
	Label   string  `json:"label,omitempty"`
	Formula string  `json:"formula,omitempty"`
	Linked  *Linked `json:"linked,omitempty"`
	Bands   *Bands  `json:"bands,omitempty"`
	Merge   *Merge  `json:"merge,omitempty"`
	Format  *Format `json:"format,omitempty"`
}

// Linked sums up the records over a link to many.
type Linked struct {
	Link  string `json:"link"`
	Fn    string `json:"fn"`
	Of    string `json:"of,omitempty"`
	By    string `json:"by,omitempty"`
	Where *Tree  `json:"where,omitempty"`
	Fixed *Tree  `json:"-"`
}

// Bands cuts a number into bands at edges.
type Bands struct {
	Of    string   `json:"of"`
	Edges []string `json:"edges"`
}

// Merge puts values under labels.
type Merge struct {
	Of   string     `json:"of"`
	Sets []MergeSet `json:"sets"`
	Rest string     `json:"rest,omitempty"`
}

// MergeSet is the values of one label.
type MergeSet struct {
	Label  string   `json:"label"`
	Values []string `json:"values"`
}

// Column is one column of the list of records.
type Column struct {
	Field  string  `json:"field"`
	Label  string  `json:"label,omitempty"`
	Format *Format `json:"format,omitempty"`
}

// Format says how values are drawn; it changes no number.
type Format struct {
	Style    string `json:"style,omitempty"`
	Decimals *int   `json:"decimals,omitempty"`
	Unit     string `json:"unit,omitempty"`
	Date     string `json:"date,omitempty"`
	Width    int    `json:"width,omitempty"`
}

// Order is one key that the list of records is sorted by.
type Order struct {
	Field string `json:"field"`
	Desc  bool   `json:"desc,omitempty"`
}

// Group is one level of groups, or across.
type Group struct {
	Field string            `json:"field,omitempty"`
	Paths map[string]string `json:"paths,omitempty"`
	Label string            `json:"label,omitempty"`
	By    period.Unit       `json:"by,omitempty"`
	Every bool              `json:"every,omitempty"`
	Order *GroupOrder       `json:"order,omitempty"`
	Top   *Top              `json:"top,omitempty"`
}

// GroupOrder overrides the order of a group: by is label or a summary's key.
type GroupOrder struct {
	By   string `json:"by"`
	Desc bool   `json:"desc,omitempty"`
}

// Top keeps the n largest or smallest groups under each parent.
type Top struct {
	N    int    `json:"n"`
	By   string `json:"by"`
	From string `json:"from,omitempty"`
	Rest string `json:"rest,omitempty"`
}

// Summary is one number worked out in every group: a function, or a formula over other summaries.
type Summary struct {
	Key     string  `json:"key"`
	Label   string  `json:"label,omitempty"`
	Fn      string  `json:"fn,omitempty"`
	Of      string  `json:"of,omitempty"`
	Where   *Tree   `json:"where,omitempty"`
	Formula string  `json:"formula,omitempty"`
	Show    string  `json:"show,omitempty"`
	Format  *Format `json:"format,omitempty"`
	Fixed   *Tree   `json:"-"`
}

// Chart says how the result is drawn. Category and Series count over groups, then across.
type Chart struct {
	Kind     string   `json:"kind"`
	Category *int     `json:"category,omitempty"`
	Series   *int     `json:"series,omitempty"`
	Values   []string `json:"values,omitempty"`
	Measure  string   `json:"measure,omitempty"` // value (default) or share
	Stacked  bool     `json:"stacked,omitempty"`
	Labels   string   `json:"labels,omitempty"` // none, values, shares, both
	Legend   string   `json:"legend,omitempty"` // top (default), right, below, left, none
	Guides   string   `json:"guides,omitempty"` // values (default), none, both, stripes
	Totals   string   `json:"totals,omitempty"` // none (default), total, records, both
	// Palette are the chart's own colours (#RRGGBB), in turn; Style is the key of a style that is kept beside the briefs.
	Palette []string `json:"palette,omitempty"`
	Style   string   `json:"style,omitempty"`
	Steps   bool     `json:"steps,omitempty"` // of a funnel of stages: how many went on from each, from the history
	// ValueTitle and GroupTitle are what the axes are called; From and To where the value axis begins and ends (decimals;
	// only lines may begin elsewhere than at zero).
	ValueTitle string `json:"valueTitle,omitempty"`
	GroupTitle string `json:"groupTitle,omitempty"`
	From       string `json:"from,omitempty"`
	To         string `json:"to,omitempty"`
	Height     int    `json:"height,omitempty"` // in pixels
	On         string `json:"on,omitempty"`     // paper or ink; as the reader has it where neither
	Heading    string `json:"heading,omitempty"`
	Below      string `json:"below,omitempty"`  // a line below the heading
	Source     string `json:"source,omitempty"` // a note below the picture
}

// ChartKinds are the kinds that can be drawn.
var ChartKinds = []string{
	"column",
	"bar",
	"line",
	"area",
	"pie",
	"ring",
	"funnel",
	"bridge",
	"column_line",
	"heat",
	"scatter",
	"bubble",
	"figure",
	"progress",
	"table",
}

// Grounds are what a chart can be drawn on, whatever its reader has chosen.
var Grounds = []string{"paper", "ink"}

// Limits of a chart's height in pixels.
const (
	MinHeight = 120
	MaxHeight = 1200
)

// Legends, Guides, ChartLabels and ChartTotals are where a chart's legend is, which lines guide the eye, what marks
// are labelled with, and what is said of the whole.
var (
	Legends     = []string{"top", "right", "below", "left", "none"}
	Guides      = []string{"values", "none", "both", "stripes"}
	ChartLabels = []string{"none", "values", "shares", "both"}
	ChartTotals = []string{"none", "total", "records", "both"}
)

var chartWords = map[string]string{
	"column":      "columns",
	"bar":         "bars",
	"line":        "lines",
	"area":        "areas",
	"column_line": "columns with a line",
	"heat":        "a heat grid",
	"scatter":     "points",
	"bubble":      "bubbles",
	"progress":    "progress",
}

// ChartWords names a kind of chart as the sentence does: "a funnel", "columns".
func ChartWords(kind string) string { return cmp.Or(chartWords[kind], "a "+kind) }

// DefaultSummary is what a report sums up when it names nothing.
var DefaultSummary = Summary{Key: "count", Fn: "count"}
