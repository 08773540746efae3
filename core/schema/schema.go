// Package schema says which record types there are, what fields they have and how they are linked
// (docs/brief.md, "Records"). The built-in set is data (builtin.json); settings may add types and fields,
// and nothing else in the program knows a type or a field by its key.
package schema

import (
	"cmp"
	_ "embed"
	"encoding/json"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"
)

// Kind is what sort of value a field holds.
type Kind string

// The kinds of docs/brief.md, "Records". ID is a record's own number, unique in its type.
const (
	ID      Kind = "id"
	Text    Kind = "text"
	Number  Kind = "number"
	Money   Kind = "money"
	Percent Kind = "percent"
	Date    Kind = "date"
	Time    Kind = "time"
	YesNo   Kind = "yesno"
	Choice  Kind = "choice"
	Link    Kind = "link"
)

// Numeric says whether values of this kind can be added up.
func (k Kind) Numeric() bool { return k == Number || k == Money || k == Percent }

// Dated says whether values of this kind lie on a day.
func (k Kind) Dated() bool { return k == Date || k == Time }

// Coded says whether values of this kind are text.
func (k Kind) Coded() bool { return k == Text || k == Choice }

// Words names a kind for people.
func (k Kind) Words() string {
	switch k {
	case YesNo:
		return "yes/no"
	case ID:
		return "a record's number"
	}
	return string(k)
}

// Worked says how a worked-out field comes from others of its record.
type Worked struct {
	// As is one of topmost, stage_pipeline, stage_status, product, days, since, days_to_today, formula.
	As string   `json:"as"`
	Of []string `json:"of"`
	// Formula works it out as an own field of a brief is (docs/brief.md, "Own fields").
	Formula string `json:"formula,omitempty"`
}

// ByFormula is how a field is worked out in each run, by a formula of the organisation's own.
const ByFormula = "formula"

// Field is one field of a record type.
type Field struct {
	Key         string   `json:"key"`
	Label       string   `json:"label"`
	Kind        Kind     `json:"kind"`
	To          string   `json:"to,omitempty"`
	Description string   `json:"description,omitempty"`
	Unit        string   `json:"unit,omitempty"`
	Ordered     bool     `json:"ordered,omitempty"`
	Stages      bool     `json:"stages,omitempty"`
	Currencies  bool     `json:"currencies,omitempty"` // its choices are the organisation's currencies
	Worked      *Worked  `json:"worked,omitempty"`
	Added       bool     `json:"added,omitempty"`
	Choices     []string `json:"choices,omitempty"`
	// Phrase and Grouped say a date in a sentence: "expected to close" before a period, "{unit} of expected close" as a
	// group, {unit} standing for the month or whatever dates are grouped by.
	Phrase  string `json:"phrase,omitempty"`
	Grouped string `json:"grouped,omitempty"`
	// What a value must be, beside its kind: Required is never empty; Format is one of email, phone, page; Least and Most
	// are the ends of its range.
	Required bool   `json:"required,omitempty"`
	Format   string `json:"format,omitempty"`
	Least    string `json:"least,omitempty"`
	Most     string `json:"most,omitempty"`
	// Unique values are those that no two records of the type have; Default is what a new record begins with.
	Unique  bool   `json:"unique,omitempty"`
	Default string `json:"default,omitempty"`
	// Closes names the field of stages whose end the date is: it is set where the stage comes to be won or lost, and
	// emptied where it is open again.
	Closes string `json:"closes,omitempty"`
	// Yes and No are what the two values of a yes/no field are called; "" for yes and no.
	Yes string `json:"yes,omitempty"`
	No  string `json:"no,omitempty"`
	// Retired fields are there for what uses them, and offered no more.
	Retired bool `json:"retired,omitempty"`
	// Exact numbers are written for people with all their decimals.
	Exact bool `json:"exact,omitempty"`
	// Locked fields are seen and not changed by whoever the schema is for.
	Locked bool `json:"locked,omitempty"`
}

// Audited says whether a field says when and by whom a record was made or changed, which the program keeps itself.
func (f *Field) Audited() bool { return audited[f.Key] }

var audited = map[string]bool{"created": true, "changed": true, "created_by": true, "changed_by": true}

// Entered says whether people write a field: it is neither worked out, nor kept by the program itself.
func (f *Field) Entered() bool { return f.Worked == nil && !f.Audited() && f.Kind != ID }

// Written says whether whoever the schema is for may write a field.
func (f *Field) Written() bool { return f.Entered() && !f.Locked }

// Formula is what works the field out, "" where no formula does.
func (f *Field) Formula() string {
	if f.Worked == nil {
		return ""
	}
	return f.Worked.Formula
}

// Word is what a value of a yes/no field is called, nil being such a field in general.
func (f *Field) Word(yes bool) string {
	switch {
	case yes && f != nil && f.Yes != "":
		return f.Yes
	case !yes && f != nil && f.No != "":
		return f.No
	case yes:
		return "yes"
	}
	return "no"
}

// GroupedBy says a group of dates by a unit: "month created". A field that brings no phrase of its own is said by its
// label: "month of delivery".
func (f *Field) GroupedBy(unit, label string) string {
	if f == nil || f.Grouped == "" {
		return unit + " of " + label
	}
	return strings.ReplaceAll(f.Grouped, "{unit}", unit)
}

// Schema is the built-in record types with what settings add. It does not change once made.
type Schema struct {
	Types    []*Type
	Settings Settings
	Zone     *time.Location
	Rail     []string // the types that are offered to be looked at, in their order

	types map[string]*Type

	seen   [Administrators]*Schema // by rank; nil where the rank sees and changes all
	hidden map[string]bool         // "type.field" that it is without
	whole  *Schema                 // that it is cut from
}

// Diary is the record type of what people do.
func (s *Schema) Diary() *Type {
	for _, t := range s.Types {
		if t.Diary != nil {
			return t
		}
	}
	return nil
}

// Readers is the record type of those who read reports.
func (s *Schema) Readers() *Type {
	for _, t := range s.Types {
		if t.Readers {
			return t
		}
	}
	return nil
}

// Rates is the record type of exchange rates, nil where there is none.
func (s *Schema) Rates() *Type {
	for _, t := range s.Types {
		if t.Rates {
			return t
		}
	}
	return nil
}

// History is the type of the changes of others, nil where there is none.
func (s *Schema) History() *Type {
	for _, t := range s.Types {
		if t.History {
			return t
		}
	}
	return nil
}

// Type finds a record type by key, nil where there is none.
func (s *Schema) Type(key string) *Type { return s.types[key] }

// StageKey is the field of the stage of a record type that was given stages.
const StageKey = "stage"

// Fields of the type of changes that say which record was changed, and which field of it.
const (
	HistoryType   = "record_type"
	HistoryRecord = "record"
	HistoryField  = "field"
)

// Belongs lists the links of a type without owner to the records that its records belong to: those that the type names,
// or, of an added type, all but links to itself, to readers and to their teams.
func (s *Schema) Belongs(t *Type) []string {
	if t.Owner != "" || !t.Added {
		return t.Belongs
	}
	readers := s.Readers()
	var list []string
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind != Link || f.To == t.Key || f.To == readers.Key ||
			(readers.Team != "" && f.To == readers.Field(readers.Team).To) {
			continue
		}
		list = append(list, f.Key)
	}
	return list
}

// BelongsTo lists the types that records of a type without owner belong to. Changes belong to records of every type.
func (s *Schema) BelongsTo(t *Type) []string {
	var list []string
	if t.History {
		for _, of := range s.Types {
			if of != t {
				list = append(list, of.Key)
			}
		}
		return list
	}
	for _, key := range s.Belongs(t) {
		list = append(list, t.Field(key).To)
	}
	return list
}

// WeekStart is the organisation's first day of the week.
func (s *Schema) WeekStart() time.Weekday { return weekdays[s.Settings.WeekStart] }

var weekdays = map[string]time.Weekday{"monday": time.Monday, "tuesday": time.Tuesday, "wednesday": time.Wednesday,
	"thursday": time.Thursday, "friday": time.Friday, "saturday": time.Saturday, "sunday": time.Sunday}

//go:embed builtin.json
var builtin []byte

var keyRule = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

// New makes the schema of an organisation. It fails where settings contradict themselves or the built-in set.
func New(set Settings) (*Schema, error) {
	if set.Timezone == "" {
		set.Timezone = "UTC"
	}
	if set.WeekStart == "" {
		set.WeekStart = "monday"
	}
	if set.FiscalMonth == 0 {
		set.FiscalMonth = 1
	}
	zone, err := time.LoadLocation(set.Timezone)
	if err != nil {
		return nil, fmt.Errorf("settings: timezone %q is not one of the time zone database", set.Timezone)
	}
	if _, ok := weekdays[set.WeekStart]; !ok {
		return nil, fmt.Errorf("settings: weekStart %q is not a day of the week in lower case", set.WeekStart)
	}
	if set.FiscalMonth < 1 || set.FiscalMonth > 12 {
		return nil, fmt.Errorf("settings: fiscalMonth %d is not a month from 1 to 12", set.FiscalMonth)
	}
	var file struct {
		Types []*Type
		Rail  []string
	}
	if err := json.Unmarshal(builtin, &file); err != nil {
		return nil, fmt.Errorf("built-in record types: %w", err)
	}
	s := &Schema{Types: file.Types, Settings: set, Zone: zone, types: map[string]*Type{}}
	for _, t := range s.Types {
		s.types[t.Key] = t
		t.index()
	}
	if err := s.add(); err != nil {
		return nil, err
	}
	if err := s.stages(); err != nil {
		return nil, err
	}
	if err := s.money(); err != nil {
		return nil, err
	}
	s.choices()
	s.offer(file.Rail)
	return s, s.limit()
}

// offer puts the types that are offered in order: as settings say, then those that come with the program, then others.
func (s *Schema) offer(builtin []string) {
	all := builtin
	for _, t := range s.Types {
		if t.Added {
			all = append(all, t.Key)
		}
	}
	for _, key := range append(slices.Clone(s.Settings.Rail), all...) {
		if slices.Contains(all, key) && !slices.Contains(s.Rail, key) {
			s.Rail = append(s.Rail, key)
		}
	}
}

func (t *Type) index() {
	t.fields, t.backs = map[string]int{}, map[string]int{}
	for i := range t.Fields {
		t.fields[t.Fields[i].Key] = i
	}
	for i := range t.Backs {
		t.backs[t.Backs[i].Key] = i
	}
}

// inOrder lists the keys of what was added in its order.
func inOrder[V any](m map[string]V, order func(V) int) []string {
	return slices.SortedFunc(maps.Keys(m), func(a, b string) int {
		return cmp.Or(cmp.Compare(order(m[a]), order(m[b])), cmp.Compare(a, b))
	})
}

func (s *Schema) add() error {
	types := inOrder(s.Settings.Types, func(a Addition) int { return a.Order })
	for _, key := range types {
		add := s.Settings.Types[key]
		if add.Icon != "" && !slices.Contains(Icons, add.Icon) {
			return fmt.Errorf("settings: types: there is no drawing %q", add.Icon)
		}
		if t := s.types[key]; t != nil {
			s.rename(t, cmp.Or(add.Label, t.Label), cmp.Or(add.One, t.One))
			if len(add.Stages) > 0 {
				return fmt.Errorf("settings: types: the stages of %s stand under stages", key)
			}
			t.Icon = add.Icon
			continue
		}
		if !keyRule.MatchString(key) {
			return fmt.Errorf("settings: types: %q is not a key of small letters, digits and _", key)
		}
		t := &Type{Key: key, Label: cmp.Or(add.Label, key), One: cmp.Or(add.One, key), Added: true, Icon: add.Icon,
			Stages: slices.Clone(add.Stages),
			Fields: []Field{{Key: "id", Label: "Number", Kind: ID}}}
		t.index()
		s.Types, s.types[key] = append(s.Types, t), t
	}
	for _, key := range types {
		t := s.types[key]
		for _, fkey := range inOrder(s.Settings.Types[key].Fields, func(f AdditionField) int { return f.Order }) {
			if err := s.addField(t, fkey, s.Settings.Types[key].Fields[fkey]); err != nil {
				return err
			}
		}
		if t.Added {
			if err := s.staged(t); err != nil {
				return err
			}
			t.Fields = append(t.Fields, s.audit()...)
			t.index()
		}
	}
	return nil
}

// rename gives a built-in type the organisation's words. Links to it and back that are called as it was follow.
func (s *Schema) rename(t *Type, label, one string) {
	wasLabel, wasOne := t.Label, t.One
	t.Label, t.One = label, one
	for _, other := range s.Types {
		for i := range other.Fields {
			if f := &other.Fields[i]; f.To == t.Key && strings.EqualFold(f.Label, wasOne) {
				r := []rune(one)
				f.Label = strings.ToUpper(string(r[:1])) + string(r[1:])
			}
		}
		for i := range other.Backs {
			if b := &other.Backs[i]; b.Type == t.Key && b.Label == wasLabel {
				b.Label = label
			}
		}
	}
}

// staged gives a type that has stages the fields that the built-in type with stages has by them: the stage, and what comes
// of it alone.
func (s *Schema) staged(t *Type) error {
	if len(t.Stages) == 0 {
		return nil
	}
	like := s.Types[slices.IndexFunc(s.Types, func(t *Type) bool { return t.Staged() != nil })]
	taken := map[string]bool{"created": true} // which every type has
	for i := range like.Fields {
		f := like.Fields[i]
		worked := f.Worked != nil && !slices.ContainsFunc(f.Worked.Of, func(of string) bool { return !taken[of] })
		if !f.Stages && f.Closes == "" && !worked {
			continue
		}
		if t.Field(f.Key) != nil || t.Back(f.Key) != nil {
			return fmt.Errorf("settings: types: %s have a field “%s” of their own, which records with stages have by them",
				t.Key, f.Label)
		}
		taken[f.Key] = true
		t.Fields = append(t.Fields, f)
		t.index()
	}
	return nil
}

func (s *Schema) audit() []Field {
	for _, t := range s.Types {
		for i := range t.Fields {
			if t.Fields[i].Key == "created" {
				return append([]Field{}, t.Fields[i:i+4]...)
			}
		}
	}
	return nil
}

func (s *Schema) addField(t *Type, key string, add AdditionField) error {
	if f := t.Field(key); f != nil && f.Currencies && !f.Added && add.Kind.Coded() {
		// The organisation had a field for it before the program did: it goes on under its name.
		f.Label, f.Description = cmp.Or(add.Label, f.Label), cmp.Or(add.Description, f.Description)
		return nil
	}
	if t.Field(key) != nil || t.Back(key) != nil || audited[key] || !keyRule.MatchString(key) || key == "own" {
		return fmt.Errorf("settings: types: %s.%s is there already or not a key of small letters, digits and _", t.Key, key)
	}
	switch add.Kind {
	case Text, Number, Money, Percent, Date, Time, YesNo, Choice:
		add.To = ""
	case Link:
		if s.types[add.To] == nil {
			return fmt.Errorf("settings: types: %s.%s links to %q, which is no record type", t.Key, key, add.To)
		}
	default:
		return fmt.Errorf("settings: types: %s.%s has the unknown kind %q", t.Key, key, add.Kind)
	}
	if add.Formula != "" && !add.Kind.Numeric() {
		return fmt.Errorf("settings: types: %s.%s is %s; a formula gives a number, money or a percent",
			t.Key, key, add.Kind.Words())
	}
	var worked *Worked
	if add.Formula != "" {
		worked = &Worked{As: ByFormula, Formula: add.Formula}
	}
	t.Fields = append(
		t.Fields,
		Field{
			Key:         key,
			Label:       cmp.Or(add.Label, key),
			Kind:        add.Kind,
			To:          add.To,
			Added:       true,
			Phrase:      add.Phrase,
			Grouped:     add.Grouped,
			Description: add.Description,
			Unit:        add.Unit,
			Required:    add.Required,
			Unique:      add.Unique,
			Format:      add.Format,
			Least:       add.Least,
			Most:        add.Most,
			Default:     add.Default,
			Worked:      worked,
			Yes:         add.Yes,
			No:          add.No,
			Retired:     add.Retired,
		},
	)
	if t.Added && t.Name == "" && (key == "name" || key == "subject") {
		t.Name = key
	}
	if t.Added && key == "owner" && add.To == "people" {
		t.Owner = key
	}
	t.index()
	if add.Kind == Link {
		to := s.types[add.To]
		back := t.Key
		if to.Field(back) != nil || to.Back(back) != nil {
			back = t.Key + "_" + key
		}
		to.Backs = append(to.Backs, Back{Key: back, Label: cmp.Or(add.Back, t.Label), Type: t.Key, Via: key})
		to.index()
	}
	return nil
}

// Statuses in their order.
var statuses = []string{"open", "won", "lost"}

// stages gives the built-in type with stages those of the settings, and checks those of every type.
func (s *Schema) stages() error {
	for _, t := range s.Types {
		if !t.Added && t.Staged() != nil {
			t.Stages = slices.Clone(s.Settings.Stages)
		}
		seen := map[string]bool{}
		for i, st := range t.Stages {
			if st.Name == "" || seen[st.Name] {
				return fmt.Errorf("settings: stages: the name %q is empty or stands twice", st.Name)
			}
			seen[st.Name] = true
			if !slices.Contains(statuses, st.Status) {
				return fmt.Errorf("settings: stages: %q has the status %q; it is open, won or lost", st.Name, st.Status)
			}
			t.Stages[i].Pipeline = cmp.Or(st.Pipeline, "Pipeline")
		}
	}
	return nil
}

func (s *Schema) choices() {
	ordered := map[string]bool{}
	for _, o := range s.Settings.Ordered {
		ordered[o] = true
	}
	for _, t := range s.Types {
		for i := range t.Fields {
			f := &t.Fields[i]
			if f.Kind != Choice {
				continue
			}
			switch {
			case f.Currencies:
				f.Choices = s.currencies()
				f.Retired = f.Retired || (len(f.Choices) < 2 && !f.Added)
			case f.Stages:
				for _, st := range t.Stages {
					f.Choices = append(f.Choices, st.Name)
				}
			case f.Worked != nil && f.Worked.As == "stage_status":
				f.Choices = statuses
			case f.Worked != nil && f.Worked.As == "stage_pipeline":
				f.Choices = t.Pipelines()
			default:
				f.Choices = s.Settings.Choices[t.Key+"."+f.Key]
			}
			f.Ordered = f.Ordered || ordered[t.Key+"."+f.Key]
		}
	}
}
