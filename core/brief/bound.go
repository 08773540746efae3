package brief

import (
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Bound is a brief checked against a schema: every path followed, every formula parsed, every value read. It is what
// the engine plans and what the sentence is said from.
type Bound struct {
	Brief   *Brief
	Schema  *schema.Schema
	Cal     *period.Calendar
	Parts   []*BoundPart // one, unless the brief has parts
	Columns []*Value
	Order   []*Value
	Groups  []*BoundGroup // rows, then across
	Rows    int           // how many of Groups are rows
	// Summaries are those of all parts in order, then the outer formulas.
	Summaries []*BoundSummary
	// Target is the amount aimed at. Where the brief names a measure it is nil until it is looked up, and stays nil
	// where none is set.
	Target *exact.Num
	// Retired are the fields that it reads and that are offered no more.
	Retired []*schema.Field
}

// BoundPart is the question about one record type.
type BoundPart struct {
	Part   *Part
	Levels []*Level // the starting record, then each brought link
	Whose  *Whose
	Period *BoundPeriod
	Filter *Cond // nil where there is none
	Fixed  *Cond // what the owner fixed and the reader does not see, nil where there is none
	Own    []*Value
	// Amounts are what groups and summaries read that is converted into the organisation's currency, Where the conditions
	// of summaries that do; Converts says whether anything that it goes by does.
	Amounts  []*Value
	Where    []*Cond
	Converts bool
	At       string // JSON pointer of the part, "" for a brief without parts
}

// Start is the record type the part starts from.
func (p *BoundPart) Start() *schema.Type { return p.Levels[0].Type }

// Level is one record of a row: the starting one, or a brought one.
type Level struct {
	Type  *schema.Type
	Back  *schema.Back // nil on the starting record
	Where *Cond
	Fixed *Cond
	Keep  bool
	Path  string // "", "deals", "deals.lines"
}

// BoundPeriod is the main date condition.
type BoundPeriod struct {
	Value  *Value
	Within period.Period
}

// Hop is one step over a link to one.
type Hop struct {
	From  *schema.Type
	Field *schema.Field
	To    *schema.Type
}

// Value is something a row has: a field behind links to one, or an own field.
type Value struct {
	Text  string // as the brief writes it
	Label string
	Kind  schema.Kind
	To    string // the record type, of a link or an id
	Scale int64  // inner units in one, of numeric kinds
	Level int    // the record of the row that it lives on

	Hops  []Hop
	Type  *schema.Type // of the record that holds the field
	Field *schema.Field

	Own *BoundOwn
	// Worked is the formula of a field that the organisation has worked out, with what it reads; nil of other fields.
	Worked *BoundOwn

	// Rated says how an amount is converted; nil of what is not. Recorded is that of an amount that is left as it is.
	Rated, Recorded *Rated

	Brought bool // a brought path itself, for count
}

// BoundOwn is how an own field is worked out: just one way is set.
type BoundOwn struct {
	Source  *Own
	Formula *Formula
	Refs    []*Value // what the formula reads, in the order of its references
	Linked  *BoundLinked
	Bands   *BoundBands
	Merge   *BoundMerge
}

// BoundLinked sums up linked records.
type BoundLinked struct {
	Hops  []Hop // links to one, before the link to many
	From  *schema.Type
	Back  *schema.Back
	Fn    string
	Of    *Value
	By    *Value
	Where *Cond
	Fixed *Cond
}

// BoundBands cuts a value at edges.
type BoundBands struct {
	Of     *Value
	Edges  []exact.Num
	Labels []string
}

// BoundMerge puts folded texts under labels.
type BoundMerge struct {
	Of     *Value
	Sets   map[string]int // folded value → place in Labels
	Labels []string       // of the sets in their order, then the rest's where it has one
	Rest   int            // place of the rest, −1 where values stay themselves
}

// Labelled says whether an own field gives labels of its own: bands or merged values.
func (v *Value) Labelled() bool {
	return v.Own != nil && (v.Own.Bands != nil || v.Own.Merge != nil)
}

// Op is what a node of a condition does.
type Op int

// The nodes of a filter.
const (
	All Op = iota
	Any
	Not
	OnField
	OnLink
)

// Cond is one node of a checked filter.
type Cond struct {
	Op     Op
	Kids   []*Cond
	Source *Tree
	At     string // JSON pointer

	Value  *Value
	Is     string
	Texts  []string    // folded, for text; as written for ids and links
	Nums   []exact.Num // of numeric values
	Inner  []int64     // of dates, times and yes/no
	Other  *Value
	Within *period.Period

	Hops    []Hop
	From    *schema.Type
	Back    *schema.Back
	Where   *Cond
	None    bool
	AtLeast int
}

// BoundGroup is one level of groups or across: a value in each part.
type BoundGroup struct {
	Group  *Group
	Values []*Value // by part
	Across bool
	At     string
}

// Header is how results name the group.
func (g *BoundGroup) Header(parts bool) string {
	name := g.Values[0].Text
	if parts && g.Group.Label != "" {
		name = g.Group.Label
	}
	if g.Group.By != "" {
		name += " by " + string(g.Group.By)
	}
	return name
}

// BoundSummary is one number in every group.
type BoundSummary struct {
	Source *Summary
	Part   int // −1 for a formula over the parts
	Of     *Value
	Where  *Cond
	Fixed  *Cond
	At     string // JSON pointer
	// Kind and Scale of the outcome; counts are numbers of scale 1.
	Kind  schema.Kind
	Scale int64
	// Within are the groups, by place, outside of which it has no value: those of the currencies of amounts as recorded.
	Within []int
	// Formula reads other summaries; Refs are their places.
	Formula *Formula
	Refs    []int
}
