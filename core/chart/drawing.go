package chart

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Limits of docs/brief.md, "Limits".
const (
	MaxSeries     = 8
	MaxCategories = 400
)

// Drawing is what a picture shows.
type Drawing struct {
	Kind       string     `json:"kind"`
	Title      string     `json:"title"`
	Categories []Category `json:"categories"`
	Apart      bool       `json:"apart" doc:"Whether each category needs its name: those between two are not known from them, as dates and numbers are"`
	Timed      bool       `json:"timed" doc:"Whether the categories follow one another in time"`
	Series     []Series   `json:"series"`
	Ticks      []Tick     `json:"ticks" doc:"Of the value axis, from the lowest to the highest"`
	Second     []Tick     `json:"second" doc:"Of the axis of lines over columns, or of the axis along the bottom where there are two measures"`
	Notes      []string   `json:"notes" doc:"What the picture leaves out"`
	Total      string     `json:"total"`
	Unit       string     `json:"unit" doc:"What the values are, for the axis"`
	Stacked    bool       `json:"stacked"`
	Change     *Change    `json:"change,omitempty" doc:"Of the total, where the brief compares"`
	Progress   *Progress  `json:"progress,omitempty" doc:"Of the total, where the brief has a target"`
	Totals     string     `json:"totals,omitempty" doc:"The total and how many records there are, where the chart shows them"`
	Legend     string     `json:"legend" doc:"top, right, below, left or none"`
	Guides     string     `json:"guides" doc:"values, none, both or stripes"`
	Labels     string     `json:"labels" doc:"none, values, shares or both; empty where the picture decides"`
	ValueTitle string     `json:"valueTitle,omitempty" doc:"What the value axis is called"`
	GroupTitle string     `json:"groupTitle,omitempty" doc:"What the axis of groups is called"`
	Height     int        `json:"height,omitempty" doc:"In pixels, where the chart sets it"`
	On         string     `json:"on,omitempty" doc:"paper or ink, where it is not as the reader has it"`
	Heading    string     `json:"heading,omitempty"`
	Below      string     `json:"below,omitempty"`
	Source     string     `json:"source,omitempty"`
}

// Change is a total against the earlier period, in words.
type Change struct {
	Before string `json:"before"`
	Text   string `json:"text"`
	Way    int    `json:"way" doc:"1 for more, -1 for less, 0 for neither"`
}

// Progress is how far a total has come.
type Progress struct {
	Total   string  `json:"total" doc:"What has come so far: of the first summary, whatever is drawn"`
	Target  string  `json:"target"`
	Share   string  `json:"share"`
	Missing string  `json:"missing" doc:"Empty where the target is reached"`
	Part    float64 `json:"part" doc:"The share as a number, for drawing"`
	Of      string  `json:"of,omitempty" doc:"What the target is for, where it comes from those that are set by month"`
}

// Category is one place along the picture.
type Category struct {
	Label  string `json:"label"`
	Detail string `json:"detail" doc:"How many records"`
	Paint
	Step  string `json:"step,omitempty" doc:"Of a funnel: the share that went on, from the history"`
	Total string `json:"total" doc:"What all series come to in it"`
}

// Paint is the colour of a mark on paper and on ink, and that of text on it.
type Paint struct {
	Colour    string `json:"colour"`
	Text      string `json:"text" doc:"Of text on the mark"`
	OnInk     string `json:"onInk" doc:"The colour where the ground is ink: a lighter sister"`
	TextOnInk string `json:"textOnInk"`
}

// Series is one row of values, of one colour.
type Series struct {
	Name string `json:"name"`
	Paint
	Form   string  `json:"form" doc:"column or line, where a picture has both; ghost of the earlier period, aim of a target; else empty"`
	Points []Point `json:"points"`
}

// Point is one mark: its value as a number for drawing, and in words.
type Point struct {
	Value *float64 `json:"value" doc:"Null where there is a gap"`
	From  *float64 `json:"from,omitempty" doc:"Where the mark begins, of a bridge, whose value is where it ends"`
	Label string   `json:"label"`
	Share string   `json:"share"`
	Say   string   `json:"say" doc:"The mark read out"`
	// Closed says that no records stand behind it: the mark opens nothing.
	Closed bool `json:"closed,omitempty" doc:"Whether no records stand behind it"`
	// Weight is the value's place between nothing and the most there is, for shades.
	Weight float64       `json:"weight"`
	Mark   result.Mark   `json:"mark"`
	More   []result.Mark `json:"more,omitempty" doc:"The other marks that are drawn together with it"`

	exact result.Value // what the value is exactly
}

// Tick is one mark on the value axis.
type Tick struct {
	Value float64 `json:"value"`
	Label string  `json:"label"`
}

// palette is ours. CheckPalette finds nothing wrong with it: told apart by readers of any sight, each with contrast on
// paper and on ink.
var palette = []string{"#007C7D", "#CA8100", "#6D629F", "#4D95C4", "#AB573C", "#859B41", "#CC568E", "#3C6CCC"}

// What is no value: the rest, what is empty, what is hidden. They are greys that are told apart from each other.
const (
	restColour   = "#979082"
	blankColour  = "#6E6E78"
	hiddenColour = "#91737D"
)

type drawer struct {
	r   *result.Result
	w   Writer
	c   *brief.Chart
	d   *Drawing
	sum int // the summary that is drawn, where there is one

	said      bool              // what the axis of time leaves out has been said
	pipelines map[string]string // of stages, where several pipelines are drawn
}

// Draw draws a result as a chart asks for; without one, as a column.
func Draw(r *result.Result, c *brief.Chart, w Writer) *Drawing {
	if c == nil {
		c = &brief.Chart{Kind: "column"}
	}
	style, known := styleOf(c, w)
	w.Style = &style
	missing := ""
	if n := measures(c.Kind); len(r.Bound.Summaries) < n {
		// A kind that goes by several numbers cannot be drawn of fewer.
		missing = fmt.Sprintf(
			"To be drawn as %s it needs %s, so this is drawn as columns",
			brief.ChartWords(c.Kind),
			lacks(r.Bound, c.Kind),
		)
		columns := *c
		columns.Kind = "column"
		c = &columns
	}
	d := &drawer{
		r: r,
		w: w,
		c: c,
		d: &Drawing{
			Kind:       c.Kind,
			Stacked:    c.Stacked,
			Notes:      []string{},
			Categories: []Category{},
			Series:     []Series{},
			Ticks:      []Tick{},
			Second:     []Tick{},
			Legend: cmp.Or(
				c.Legend,
				style.Legend,
				"top",
			),
			Guides:  cmp.Or(c.Guides, style.Guides, "values"),
			Labels:  cmp.Or(c.Labels, style.Labels),
			On:      cmp.Or(c.On, style.On),
			Heading: c.Heading,
			Below:   c.Below,
			Source:  c.Source,
		},
	}
	if !known {
		d.note("the style that this chart asks for is no longer kept, so it follows the house style")
	}
	if missing != "" {
		d.note("%s", missing)
	}
	sums := d.values()
	d.sum = sums[0]
	cats := d.categories()
	if groups := r.Bound.Groups; len(groups) > 0 {
		kind := groups[0].Values[0].Kind
		d.d.Apart = !kind.Dated() && !kind.Numeric()
		d.d.Timed = d.timed()
	}
	d.series(cats, sums)
	d.bridge()
	d.slices()
	d.beside(cats)
	d.shares()
	d.axis()
	d.title(sums)
	first := r.Bound.Summaries[d.sum]
	d.d.Total = w.Value(first.Kind, r.Cell(0, 0).Plain[d.sum], first.Source.Format)
	d.whole()
	d.totals(cmp.Or(c.Totals, style.Totals))
	d.steps()
	d.scales(sums)
	return d.d
}

// styleOf is how a chart looks where it says nothing itself: as the style that it asks for, else as the house style. It
// says whether that style is known.
func styleOf(c *brief.Chart, w Writer) (style Style, known bool) {
	if w.Style != nil {
		style = *w.Style
	}
	known = true
	if c.Style != "" {
		var asked Style
		asked, known = w.Styles[c.Style]
		style = asked.over(style)
	}
	if len(c.Palette) > 0 {
		style.Palette = c.Palette
	}
	return style, known
}

// totals says the total and how many records there are, as the chart asks for.
func (d *drawer) totals(what string) {
	var list []string
	counts := d.sum == d.countOf()
	if (what == "total" || what == "both") && !counts {
		list = append(list, SummaryName(d.r, d.sum)+" "+cmp.Or(d.d.Total, "nothing"))
	}
	if what == "records" || what == "both" || (what == "total" && counts) {
		kinds := d.r.Bound.Parts
		if len(kinds) == 1 {
			list = append(list, brief.Counted(kinds[0].Start(), d.r.Records))
		} else {
			list = append(list, brief.Counted(&schema.Type{Label: "records", One: "record"}, d.r.Records))
		}
	}
	d.d.Totals = strings.Join(list, " · ")
}

// steps says of each stage of a funnel how many went on, where the chart asks for it.
func (d *drawer) steps() {
	if d.c.Kind != "funnel" || !d.c.Steps {
		return
	}
	if d.w.Steps == nil {
		d.note("how many went on is known only where a report's own records are grouped by stage")
		return
	}
	nodes, _ := d.along()
	for i, n := range d.drawn(nodes)[:len(d.d.Categories)] {
		if step, ok := d.w.Steps[nodes[n].Label]; ok && step.Stood > 0 && i+1 < len(d.d.Categories) {
			d.d.Categories[i].Step = d.w.Ratio(step.Share()) + " went on"
		}
	}
}

// whole compares the total: with the earlier period, and towards the target.
func (d *drawer) whole() {
	k, f := d.r.Bound.Summaries[d.sum].Kind, d.r.Bound.Summaries[d.sum].Source.Format
	if c := d.r.Cell(0, 0); c.Before != nil {
		ch := ChangeOf(d.w, k, f, c, d.sum)
		d.d.Change = &ch
	}
	if p := d.r.Progress; p != nil {
		// A target is the first summary's, whichever is drawn.
		k, f = d.r.Bound.Summaries[0].Kind, d.r.Bound.Summaries[0].Source.Format
		d.d.Progress = &Progress{
			Total:  d.w.Value(k, d.r.Cell(0, 0).Plain[0], f),
			Target: d.w.Value(k, result.Value{Set: true, Num: p.Target}, f),
			Share:  d.w.Ratio(p.Share),
			Part:   p.Share.Num.Float(),
		}
		if p.Missing.Num.Sign() > 0 {
			d.d.Progress.Missing = d.w.Value(k, p.Missing, f)
		}
	}
}

// ChangeOf says how a summary of a cell changed against the earlier period: "+3 · +25.0 %".
func ChangeOf(w Writer, k schema.Kind, f *brief.Format, c result.Cell, s int) Change {
	out := Change{Before: w.Value(k, c.Before[s], f)}
	by := c.Change[s]
	if !by.Set {
		return out
	}
	if out.Way = by.Num.Sign(); out.Way == 0 {
		out.Text = "same"
		return out
	}
	sign := ""
	if out.Way > 0 {
		sign = "+"
	}
	out.Text = sign + w.Value(k, by, f)
	if c.ChangePercent[s].Set {
		out.Text += " · " + sign + w.Ratio(c.ChangePercent[s])
	}
	return out
}

// measures is how many summaries a kind of chart needs.
func measures(kind string) int {
	switch kind {
	case "column_line", "scatter":
		return 2
	case "bubble":
		return 3
	}
	return 1
}

// asShare says whether a summary is shown as a share, which is a ratio whatever it is of.
func (d *drawer) asShare(s int) bool {
	return strings.HasPrefix(d.r.Bound.Summaries[s].Source.Show, "percent")
}

func (d *drawer) format(s int) *brief.Format {
	f := d.r.Bound.Summaries[s].Source.Format
	if !d.asShare(s) {
		return f
	}
	share := brief.Format{Style: "percent"}
	if f != nil {
		share.Decimals = f.Decimals
	}
	return &share
}

func (d *drawer) kind(s int) schema.Kind {
	if d.asShare(s) {
		return schema.Number
	}
	return d.r.Bound.Summaries[s].Kind
}

// values are the places of the summaries that are drawn: those named, else the last one, which is most often the sum
// after the count.
func (d *drawer) values() []int {
	if d.c.Kind == "progress" {
		return []int{0} // a target is the first summary's
	}
	var list []int
	for _, key := range d.c.Values {
		for i, s := range d.r.Bound.Summaries {
			if s.Source.Key == key {
				list = append(list, i)
			}
		}
	}
	if n := measures(d.c.Kind); n > 1 {
		for i := range d.r.Bound.Summaries {
			if len(list) < n && !slices.Contains(list, i) {
				list = append(list, i)
			}
		}
		return list[:min(n, len(list))]
	}
	if len(list) == 0 {
		at := 0
		for i, s := range d.r.Bound.Summaries {
			if s.Source.Fn == "sum" && (s.Kind == schema.Money || len(s.Within) > 0) {
				at = i
				break
			}
		}
		list = []int{at}
	}
	return list
}

// place is a category: a node of the rows, or of across where there are no rows.
type place struct {
	row, col int
}

// along are the nodes that a picture's categories are: rows, or columns where the brief groups across alone.
func (d *drawer) along() (nodes []result.Node, rows bool) {
	if d.r.Bound.Rows == 0 {
		return d.r.Cols, false
	}
	return d.r.Rows, true
}

func (d *drawer) categories() []place {
	r := d.r
	nodes, rows := d.along()
	kids := d.drawn(nodes)
	if len(r.Bound.Groups) == 0 {
		kids = []int{0}
	}
	if len(kids) > MaxCategories {
		d.note("the first %d of %d groups are drawn", MaxCategories, len(kids))
		kids = kids[:MaxCategories]
	}
	var list []place
	count := d.countOf()
	tints := d.tints(nodes, kids)
	for i, n := range kids {
		p := place{row: n}
		if !rows {
			p = place{col: n}
		}
		list = append(list, p)
		label := "All"
		if len(r.Bound.Groups) > 0 {
			label = d.name(nodes[n].Member)
		}
		c := Category{
			Label: label,
			Paint: paint(tints[i]),
			Total: d.w.Value(d.kind(d.sum), r.Cell(p.row, p.col).Plain[d.sum], r.Bound.Summaries[d.sum].Source.Format),
		}
		if count >= 0 {
			c.Detail = d.counted(r.Cell(p.row, p.col).Plain[count], count)
		}
		d.d.Categories = append(d.d.Categories, c)
	}
	return list
}

// countOf is the place of a plain count of records among the summaries, −1 where there is none.
func (d *drawer) countOf() int {
	for i, s := range d.r.Bound.Summaries {
		if s.Source.Fn == "count" && s.Where == nil && s.Of == nil {
			return i
		}
	}
	return -1
}

func (d *drawer) counted(v result.Value, s int) string {
	n, _ := v.Num.Scaled(1)
	return brief.Counted(d.r.Bound.Parts[d.r.Bound.Summaries[s].Part].Start(), n)
}

func (d *drawer) note(format string, args ...any) {
	d.d.Notes = append(d.d.Notes, fmt.Sprintf(format, args...))
}

// SummaryName names a summary of a result.
func SummaryName(r *result.Result, s int) string {
	return brief.SummaryLabel(r.Bound, r.Bound.Summaries[s])
}

func (d *drawer) title(sums []int) {
	d.d.Title = Title(d.r.Bound, sums)
	d.d.Unit = SummaryName(d.r, d.sum)
	if d.kind(d.sum) == schema.Money {
		d.d.Unit += " (" + strings.TrimSpace(brief.Currency(d.w.Currency)) + ")"
	}
}

// Title names a chart by what it shows: "Value by stage".
func Title(b *brief.Bound, sums []int) string {
	var names []string
	for _, s := range sums {
		n := brief.SummaryLabel(b, b.Summaries[s])
		if cut, ok := strings.CutPrefix(n, "Sum of "); ok {
			n = brief.Capital(cut)
		}
		if len(names) > 0 {
			n = brief.Small(n)
		}
		names = append(names, n)
	}
	title := strings.Join(names, " and ")
	for i, g := range b.Groups {
		switch {
		case i == 0:
			title += " by "
		case i == len(b.Groups)-1:
			title += " and "
		default:
			title += ", "
		}
		title += brief.GroupLabel(g)
	}
	switch b.Brief.Compare {
	case "previous_period":
		title += ", compared with the period before"
	case "year_before":
		title += ", compared with the year before"
	}
	return title
}
