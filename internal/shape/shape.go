// Package shape is how an organisation shapes its records: choices, stages and fields of its own. What is renamed is
// renamed everywhere: in records, in their history, in reports and dashboards.
package shape

import (
	"context"
	"errors"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
	"uzzel/internal/styles"
)

// Shape changes the shape of records.
type Shape struct {
	store    *store.Store
	feed     *feed.Hub
	settings *inforce.Settings
}

// New shapes the records of a store; settings are those in force, of which some name what is shaped.
func New(s *store.Store, f *feed.Hub, settings *inforce.Settings) *Shape {
	return &Shape{s, f, settings}
}

// Limits.
const (
	mostChoices = 500
	mostFields  = 100 // added to one type
	mostName    = 100 // characters
	mostTypes   = 40  // added
	mostHelp    = 500
)

// Choice is a choice of a field, with what it was called before and how many records have it.
type Choice struct {
	Name string
	Was  string // "" for a new one
	Uses int
	// Colour is what it has on every chart, "" for one that it is given there.
	Colour string
}

// FieldShape is a field with its choices.
type FieldShape struct {
	Field   *schema.Field
	Choices []Choice
}

// Version is how often the shape was changed.
func (s *Shape) Version(ctx context.Context) (int, error) { return s.store.ShapeVersion(ctx) }

func may(v *answers.View) error {
	switch {
	case !v.Who.May(people.Shape):
		return fault.New(fault.Forbidden, "", "Only administrators, and who has the right to, shape records.")
	case v.Snap.Schema.HidesAny():
		return fault.New(fault.Forbidden, "", "There are fields that you do not see, so that administrators shape records.")
	}
	return nil
}

// Of gives the fields of a type, with how many records have each choice.
func (s *Shape) Of(v *answers.View, typ string) ([]FieldShape, error) {
	if err := may(v); err != nil {
		return nil, err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return nil, fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	var list []FieldShape
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind == schema.ID || f.Audited() {
			continue
		}
		shape := FieldShape{Field: f}
		if f.Kind == schema.Choice && f.Worked == nil {
			uses, err := usesOf(v, t, f)
			if err != nil {
				return nil, err
			}
			has := v.Looks.House.Values[typ+"."+f.Key]
			for _, c := range f.Choices {
				shape.Choices = append(shape.Choices, Choice{c, c, uses[c], has[c]})
				delete(uses, c)
			}
			// What records have and no choice is, from before there were choices.
			for _, c := range sorted(uses) {
				shape.Choices = append(shape.Choices, Choice{c, c, uses[c], has[c]})
			}
		}
		list = append(list, shape)
	}
	return list, nil
}

func sorted(uses map[string]int) []string {
	var list []string
	for c := range uses {
		list = append(list, c)
	}
	slices.Sort(list)
	return list
}

// usesOf counts the records that have each value of a field.
func usesOf(v *answers.View, t *schema.Type, f *schema.Field) (map[string]int, error) {
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	c, err := v.Snap.Column(t.Key, f.Key)
	if err != nil {
		return nil, err
	}
	byCode := map[int64]int{}
	for row := range int32(table.N) {
		if x := c.At(row); x != column.Null {
			byCode[x]++
		}
	}
	uses := map[string]int{}
	for code, n := range byCode {
		uses[c.Dict.Values()[code]] = n
	}
	return uses, nil
}

// renames are the values that are called otherwise now; a value that records have and that is no more is refused.
func renames(list []Choice, uses map[string]int) (map[string]string, []string, error) {
	to, names, kept := map[string]string{}, []string{}, map[string]bool{}
	if len(list) > mostChoices {
		return nil, nil, fault.New(fault.Invalid, "/choices", "A field has at most %d choices.", mostChoices)
	}
	for _, c := range list {
		name := naming.Tidy(c.Name)
		if name == "" || len([]rune(name)) > mostName {
			return nil, nil, fault.New(fault.Invalid, "/choices", "Name each of at most %d characters.", mostName)
		}
		if c.Was != "" {
			kept[c.Was] = true
			if c.Was != name {
				to[c.Was] = name
			}
		}
		// Two that are called the same become one.
		if !slices.ContainsFunc(names, func(n string) bool { return column.Fold(n) == column.Fold(name) }) {
			names = append(names, name)
		} else if !slices.Contains(names, name) {
			return nil, nil, fault.New(fault.Invalid, "/choices", "“%s” is there in other letters.", name)
		}
	}
	for _, was := range sorted(uses) {
		if n := uses[was]; n > 0 && !kept[was] {
			return nil, nil, fault.New(fault.Invalid, "/choices",
				"%d records have “%s”. Call it as another to have them moved there, or change them first.", n, was)
		}
	}
	return to, names, nil
}

// SetChoices sets the choices of a field, in their order: new ones, those that are called otherwise, two that become one.
// What records have stays a choice. version is the one that was read.
func (s *Shape) SetChoices(ctx context.Context, v *answers.View, typ, field string, list []Choice, version int) error {
	t, f, err := choiceField(v, typ, field)
	if err != nil {
		return err
	}
	switch {
	case f.Stages:
		return fault.New(fault.Invalid, "/field", "Stages are set as stages, with status and likelihood.")
	case f.Currencies:
		return fault.New(fault.Invalid, "/field", "Currencies are set in the settings, for all records.")
	}
	uses, err := usesOf(v, t, f)
	if err != nil {
		return err
	}
	to, names, err := renames(list, uses)
	if err != nil {
		return err
	}
	return s.reshape(ctx, v, version, func(w *store.Writer, set *schema.Settings) error {
		if set.Choices == nil {
			set.Choices = map[string][]string{}
		}
		set.Choices[typ+"."+field] = names
		return errors.Join(rename(w, v, typ, field, to), s.colour(ctx, w, typ, field, list))
	})
}

// colour has choices and stages have on every chart the colours that they are set with.
func (s *Shape) colour(ctx context.Context, w *store.Writer, typ, field string, list []Choice) error {
	colours := map[string]string{}
	for _, c := range list {
		if c.Colour != "" {
			colours[naming.Tidy(c.Name)] = strings.ToUpper(c.Colour)
		}
	}
	return styles.Colour(w.Together(ctx), s.store, typ+"."+field, colours)
}

func choiceField(v *answers.View, typ, field string) (*schema.Type, *schema.Field, error) {
	if err := may(v); err != nil {
		return nil, nil, err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil || t.Field(field) == nil || t.Field(field).Worked != nil || t.Field(field).Kind != schema.Choice {
		return nil, nil, fault.New(fault.NotFound, "", "There is no such field of choices.")
	}
	return t, t.Field(field), nil
}

// rename gives values new names wherever they are.
func rename(w *store.Writer, v *answers.View, typ, field string, to map[string]string) error {
	if len(to) == 0 {
		return nil
	}
	if err := w.RenameValues(typ, field, to); err != nil {
		return err
	}
	r := rewriter{v.Snap.Schema, typ, field, to}
	return w.RewriteKept(r.text)
}

// reshape changes the settings and tells open windows.
func (s *Shape) reshape(
	ctx context.Context,
	v *answers.View,
	version int,
	do func(w *store.Writer, set *schema.Settings) error,
) error {
	err := s.store.Reshape(ctx, version, func(w *store.Writer, set *schema.Settings) error {
		w.Person = v.Who.ID
		return do(w, set)
	})
	var f *fault.Error
	switch {
	case err == nil:
		if err := s.settings.Reread(ctx); err != nil {
			return err
		}
		s.feed.Tell(feed.Event{Kind: feed.Settings})
		s.feed.Tell(feed.Event{Kind: feed.Records})
		return nil
	case errors.Is(err, store.ErrStale):
		return fault.FromStore(err, "setting")
	case errors.As(err, &f), !strings.HasPrefix(err.Error(), "settings: "):
		return err
	}
	return fault.New(fault.Invalid, "", "%s.", brief.Capital(strings.TrimPrefix(err.Error(), "settings: ")))
}
