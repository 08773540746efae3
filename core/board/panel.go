package board

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// Options say how a panel differs from its report as it was kept. A panel without a report has words of its own.
type Options struct {
	Heading string `json:"heading,omitempty"`
	Below   string `json:"below,omitempty" doc:"A line below the heading"`
	Source  string `json:"source,omitempty" doc:"A note on the source, below it"`
	Moved   string `json:"moved,omitempty" doc:"Has it tell what moved since a day, 2026-05-08 or last_week, in place of the report's answer"`
	Stood   string `json:"stood,omitempty" doc:"day, week or month: has it tell how the report stood at their ends, in place of its answer; as lines where its kind is line, else as areas"`
	List    bool   `json:"list,omitempty" doc:"Whether it is a list of the report's records, whatever it groups them by"`
	Kind    string `json:"kind,omitempty" doc:"Another kind of chart than the report's"`
	Style   string `json:"style,omitempty" doc:"The key of a kept style, in place of the report's looks"`
	Looks   *Looks `json:"looks,omitempty" doc:"What its chart has of its own; it goes before the report's and a style's"`
	Items   int    `json:"items,omitempty" doc:"How many groups, or records, are shown: the first; 0 for as many as the report has"`
	Order   string `json:"order,omitempty" doc:"label, largest or smallest; as the report orders its groups where it is empty"`
	// Period is as a brief has it. A panel with one of its own does not follow the dashboard's.
	Period json.RawMessage `json:"period,omitempty" doc:"A period of its own, in place of the report's and the board's"`
	// Where are conditions of its own, besides its report's: a brief of the report's record type with a filter alone.
	Where *brief.Brief `json:"where,omitempty" doc:"Conditions of its own besides the report's: a report over the same record type with a filter alone"`
	// Group takes the place of what the report groups by first: a path of choices, texts or links.
	Group   string `json:"group,omitempty" doc:"What it groups by first, in place of the report's group"`
	Switch  bool   `json:"switch,omitempty" doc:"Whether its readers are offered to switch what it sums up and groups by, for their reading"`
	Top     bool   `json:"top,omitempty" doc:"Whether it stands in the row of figures at the top, which stays as one scrolls"`
	Link    string `json:"link,omitempty" doc:"Where the heading leads, in place of the report: /dashboards/3, /reports/4, https://…"`
	Words   string `json:"words,omitempty" doc:"What a panel without a report says"`
	Section bool   `json:"section,omitempty" doc:"Whether the words are a heading over what follows"`
	Kept    int64  `json:"kept,omitempty" doc:"The kept result that a panel without a report shows; on one's own dashboards alone"`
}

// Looks are members of a brief's chart that a panel has of its own.
type Looks struct {
	Values     []string `json:"values,omitempty" doc:"The keys of the summaries that it draws"`
	Measure    string   `json:"measure,omitempty"`
	Stacked    *bool    `json:"stacked,omitempty"`
	Labels     string   `json:"labels,omitempty"`
	Legend     string   `json:"legend,omitempty"`
	Guides     string   `json:"guides,omitempty"`
	Totals     string   `json:"totals,omitempty"`
	Palette    []string `json:"palette,omitempty"`
	On         string   `json:"on,omitempty"`
	ValueTitle string   `json:"valueTitle,omitempty"`
	GroupTitle string   `json:"groupTitle,omitempty"`
	From       string   `json:"from,omitempty"`
	To         string   `json:"to,omitempty"`
}

// over is a chart with the looks that are set; the others stay as they are.
func (l Looks) over(c brief.Chart) brief.Chart {
	for _, m := range []struct {
		own string
		to  *string
	}{{l.Measure, &c.Measure}, {l.Labels, &c.Labels}, {l.Legend, &c.Legend}, {l.Guides, &c.Guides}, {l.Totals, &c.Totals}, {l.On, &c.On},
		{l.ValueTitle, &c.ValueTitle}, {l.GroupTitle, &c.GroupTitle}, {l.From, &c.From}, {l.To, &c.To}} {
		if m.own != "" {
			*m.to = m.own
		}
	}
	if l.Values != nil {
		c.Values = l.Values
	}
	if l.Palette != nil {
		c.Palette = l.Palette
	}
	if l.Stacked != nil {
		c.Stacked = *l.Stacked
	}
	return c
}

// check says what no chart can have of a panel's looks. Which summaries it draws is up to its report.
func (l Looks) check(s *schema.Schema) error {
	l.Values = nil
	c, start := l.over(brief.Chart{Kind: "column"}), s.Readers().Key
	_, err := brief.Bind(
		&brief.Brief{Version: brief.Version, Part: brief.Part{Start: start}, Groups: []brief.Group{{Field: "id"}}, Chart: &c},
		s,
	)
	return err
}

// Orders are the orders that a panel can give its groups.
var Orders = []string{"label", "largest", "smallest"}

// Stands are the units at whose ends a panel tells how its report stood.
var Stands = []string{"day", "week", "month"}

// MaxItems is how many groups or records a panel can be held to.
const MaxItems = 400

// Check says what is wrong with how a panel differs from its report; nil for nothing.
func (o Options) Check(s *schema.Schema) error {
	switch {
	case o.Kind != "" && !slices.Contains(brief.ChartKinds, o.Kind):
		return fmt.Errorf("there is no kind of chart “%s”", o.Kind)
	case o.Items < 0 || o.Items > MaxItems:
		return fmt.Errorf("a panel shows 1 to %d groups or records", MaxItems)
	case o.Order != "" && !slices.Contains(Orders, o.Order):
		return errors.New("a panel’s groups are ordered by label, the largest or the smallest first")
	}
	if o.Looks != nil {
		var bad brief.Problems
		if err := o.Looks.check(s); errors.As(err, &bad) {
			return fmt.Errorf("a panel’s looks: %s", bad[0].Message)
		} else if err != nil {
			return err
		}
	}
	if _, err := o.Within(); err != nil {
		return errors.New("a panel’s period cannot be read")
	}
	if o.Stood != "" && (!slices.Contains(Stands, o.Stood) || o.Moved != "") {
		return errors.New("a panel tells how its report stood by day, week or month, or what moved in it")
	}
	if o.Moved != "" {
		if _, err := brief.ParseMoment(o.Moved); err != nil {
			return errors.New("a panel tells what moved since a day, or since the end of a week, a month, a quarter or a year")
		}
	}
	return o.checkWhere(s)
}

// checkWhere says what is wrong with a panel's conditions of its own. Nobody is asked for them, and none are hidden.
func (o Options) checkWhere(s *schema.Schema) error {
	if o.Where == nil {
		return nil
	}
	alone := brief.Brief{Version: o.Where.Version, Part: brief.Part{Start: o.Where.Start, Filter: o.Where.Filter}}
	text, err := json.Marshal(o.Where)
	if err != nil {
		return err
	}
	if same, err := json.Marshal(alone); err != nil || string(same) != string(text) {
		return errors.New("a panel’s conditions are a filter alone")
	}
	if brief.HasFixed(&alone) || brief.Asks(&alone) {
		return errors.New("a panel’s conditions are neither fixed nor asked for")
	}
	var bad brief.Problems
	if _, err := brief.Bind(&alone, s); errors.As(err, &bad) {
		return fmt.Errorf("a panel’s conditions: %s", bad[0].Message)
	} else if err != nil {
		return err
	}
	return nil
}

// ErrOther says that a panel has conditions of its own over other records than its report has by now.
var ErrOther = errors.New("the panel’s own conditions are about other records than its report")

// Narrow is a report's brief with the conditions that the panel has of its own.
func (o Options) Narrow(b *brief.Brief) (*brief.Brief, error) {
	if o.Where == nil || o.Where.Filter == nil {
		return b, nil
	}
	if b.Start != o.Where.Start {
		return nil, ErrOther
	}
	out := *b
	more := o.Where.Filter.All
	if more == nil {
		more = []brief.Tree{*o.Where.Filter}
	}
	out.Filter = b.Filter.And(more...)
	return &out, nil
}

// Within is the panel's own period; nil for none.
func (o Options) Within() (*brief.Period, error) {
	if len(o.Period) == 0 {
		return nil, nil
	}
	p, err := brief.DecodePeriod(o.Period)
	return &p, err
}

// Place is a report's brief as a panel shows it: a list of its records, another kind of chart, other looks, another
// order, or its first groups or records alone.
func (o Options) Place(b *brief.Brief) *brief.Brief {
	out := *b
	if o.Stood != "" {
		o.Kind = "" // of how it stood, not of its answer
	}
	if o.List && len(b.Parts) == 0 {
		out.Groups, out.Across, out.Summaries, out.TotalsOnly = nil, nil, nil, false
		out.Compare, out.Target, out.TargetOf, out.Chart = "", "", "", nil
		return Options{Items: o.Items}.Place(&out)
	}
	if o.Kind != "" || o.Style != "" || o.Looks != nil {
		out.Chart = o.chart(b.Chart)
	}
	if o.Group != "" && len(b.Groups) > 0 && len(b.Parts) == 0 && b.Groups[0].Field != o.Group {
		out.Groups = slices.Clone(b.Groups)
		out.Groups[0] = brief.Group{Field: o.Group, Top: b.Groups[0].Top}
	}
	if len(out.Groups) == 0 {
		if o.Items > 0 && (out.Limit == nil || *out.Limit > o.Items) {
			out.Limit = &o.Items
		}
		return &out
	}
	if o.Items == 0 && o.Order == "" {
		return &out
	}
	by := drawn(&out)
	first := out.Groups[0]
	switch o.Order {
	case "":
	case "label":
		first.Order = &brief.GroupOrder{By: "label"}
	default:
		first.Order = &brief.GroupOrder{By: by, Desc: o.Order == "largest"}
	}
	if o.Items > 0 && !first.Every { // with every member there are no first few: all are shown
		from := "largest"
		if o.Order == "smallest" {
			from = "smallest"
		}
		first.Top = &brief.Top{N: o.Items, By: by, From: from}
	}
	out.Groups = append([]brief.Group{first}, out.Groups[1:]...)
	return &out
}

// chart is a report's chart with what the panel has of its own.
func (o Options) chart(was *brief.Chart) *brief.Chart {
	c := brief.Chart{Kind: "column"}
	if was != nil {
		c = *was
	}
	if o.Kind != "" {
		c.Kind = o.Kind
	}
	if o.Style != "" {
		c = *Dressed(&c, o.Style)
	}
	if o.Looks != nil {
		c = o.Looks.over(c)
	}
	return &c
}

// Dressed is a chart that asks for a kept style, and says nothing of its own that the style says; an empty key has it
// follow the house style.
func Dressed(c *brief.Chart, key string) *brief.Chart {
	next := *c
	next.Style, next.Palette, next.Legend, next.Guides, next.Labels, next.Totals, next.On = key, nil, "", "", "", "", ""
	return &next
}

// drawn is the key of the summary that a brief's chart draws.
func drawn(b *brief.Brief) string {
	list := b.Summaries
	if len(b.Parts) > 0 {
		list = b.Parts[0].Summaries
	}
	if b.Chart != nil && len(b.Chart.Values) > 0 {
		if slices.ContainsFunc(b.Summaries, func(s brief.Summary) bool { return s.Key == b.Chart.Values[0] }) {
			return b.Chart.Values[0]
		}
	}
	if len(list) == 0 {
		return "count"
	}
	return list[0].Key
}
