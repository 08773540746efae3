package shape

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/entry"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// FieldEdit is a field of one's own, as its members of schema.AdditionField say.
type FieldEdit struct {
	Label       string
	Kind        schema.Kind
	To          string // the type that a link leads to
	Back        string // what the link is called from there
	Description string
	Unit        string
	Phrase      string
	Format      string
	Least       string
	Most        string
	Default     string
	Required    bool
	Unique      bool
	Formula     string   // that works the field out from others of its record
	Yes, No     string   // what the values of a yes/no field are called; "" for yes and no
	Retired     bool     // offered no more
	Choices     []string // of a new field
}

// kinds are those that a field of one's own can have.
var kinds = []schema.Kind{
	schema.Text,
	schema.Number,
	schema.Money,
	schema.Percent,
	schema.Date,
	schema.Time,
	schema.YesNo,
	schema.Choice,
	schema.Link,
}

// phrase is what a date field says in a sentence before a period: "due", "expected to arrive".
var phrase = regexp.MustCompile(`^\p{L}+( \p{L}+){0,5}$`)

// AddField adds a field to a record type, and gives its key.
func (s *Shape) AddField(ctx context.Context, v *answers.View, typ string, e FieldEdit, version int) (string, error) {
	t, err := shaped(v, typ)
	if err != nil {
		return "", err
	}
	var names []string
	if e.Kind == schema.Choice {
		var list []Choice
		for _, c := range e.Choices {
			list = append(list, Choice{Name: c})
		}
		if _, names, err = renames(list, nil); err != nil {
			return "", err
		}
	}
	added, order := len(v.Snap.Schema.Settings.Types[typ].Fields), 0
	for _, f := range v.Snap.Schema.Settings.Types[typ].Fields {
		order = max(order, f.Order)
	}
	if added >= mostFields {
		return "", fault.New(
			fault.Invalid,
			"",
			"%s have %d fields of your own, which is as many as there can be.",
			t.Label,
			added,
		)
	}
	field, err := checked(v, t, "", e, names)
	if err != nil {
		return "", err
	}
	field.Order = order + 1
	key := freeField(t, field.Label)
	return key, s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		putField(set, typ, key, field)
		if len(names) > 0 {
			if set.Choices == nil {
				set.Choices = map[string][]string{}
			}
			set.Choices[typ+"."+key] = names
		}
		return nil
	})
}

// freeField is a key for a field of a type that nothing else of it has.
func freeField(t *schema.Type, label string) string {
	return naming.FreeKey(label, func(key string) bool {
		return t.Field(key) != nil || t.Back(key) != nil || slices.Contains(notFields, key)
	})
}

// notFields are keys that mean something else where fields are named.
var notFields = []string{"own", "label", "id", "created", "changed", "created_by", "changed_by", "version"}

// putField sets a field in settings that are shared with nobody else's.
func putField(set *schema.Settings, typ, key string, f schema.AdditionField) {
	types := maps.Clone(set.Types)
	if types == nil {
		types = map[string]schema.Addition{}
	}
	a := types[typ]
	if a.Fields = maps.Clone(a.Fields); a.Fields == nil {
		a.Fields = map[string]schema.AdditionField{}
	}
	a.Fields[key] = f
	types[typ] = a
	set.Types = types
}

// SetField changes a field of one's own: what it is called, which reports follow as they name it by its key, what it takes
// and what sort of values it holds. Values that another kind does not take are refused, with how many there are and some
// of them.
func (s *Shape) SetField(ctx context.Context, v *answers.View, typ, key string, e FieldEdit, version int) error {
	t, f, err := ownField(v, typ, key)
	if err != nil {
		return err
	}
	e.Kind = cmp.Or(e.Kind, f.Kind)
	if t.Added && f.Key == t.Name && e.Kind != schema.Text {
		return fault.New(fault.Invalid, "/kind", "“%s” names each %s. It stays a text.", f.Label, t.One)
	}
	if f.Kind == schema.Link {
		e.To = f.To // where it leads is what it is
	}
	field, err := checked(v, t, key, e, f.Choices)
	if err != nil {
		return err
	}
	field.Order = v.Snap.Schema.Settings.Types[typ].Fields[key].Order
	if (f.Formula() == "") != (field.Formula == "") {
		return fault.New(fault.Invalid, "/formula",
			"A field is either worked out or filled in. Make a new one for the other.")
	}
	if err := formulasHold(v, typ, key, field); err != nil {
		return err
	}
	var values map[int64]string
	if e.Kind != f.Kind && field.Formula == "" {
		if values, err = converted(v, t, f, e.Kind); err != nil {
			return err
		}
	}
	if e.Unique && !f.Unique {
		if n, err := s.store.Doubled(ctx, typ, key); err != nil || n > 0 {
			return cmp.Or(err, fault.New(fault.Invalid, "/unique",
				"%s of %s are on more than one record. Make them differ first.", some(int(n), "value"), f.Label))
		}
	}
	return s.reshape(ctx, v, version, func(w *store.Writer, set *schema.Settings) error {
		putField(set, typ, key, field)
		if e.Kind == schema.Choice && f.Kind != schema.Choice {
			choices := maps.Clone(set.Choices)
			if choices == nil {
				choices = map[string][]string{}
			}
			choices[typ+"."+key] = slices.Sorted(maps.Keys(valuesOf(values)))
			set.Choices = choices
		}
		if e.Kind != schema.Choice {
			delete(set.Choices, typ+"."+key)
		}
		if values != nil {
			w.After = func(now *schema.Schema) error { return w.Fill(now.Type(typ), key, values) }
		}
		return nil
	})
}

func some(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

func valuesOf(by map[int64]string) map[string]bool {
	out := map[string]bool{}
	for _, text := range by {
		out[text] = true
	}
	return out
}

// converted are the values of a field as another kind has them, by record.
func converted(v *answers.View, t *schema.Type, f *schema.Field, to schema.Kind) (map[int64]string, error) {
	if f.Kind == schema.Link || to == schema.Link {
		return nil, fault.New(fault.Invalid, "/kind", "A link is made anew: what it leads to is no value.")
	}
	target := schema.Field{Key: f.Key, Label: f.Label, Kind: to}
	values, wrong, examples := map[int64]string{}, 0, []string{}
	err := v.Snap.EachText(t.Key, f.Key, func(_ int32, id, text string) {
		now, err := entry.Check(&target, text, v.Snap.Cal)
		if err != nil {
			if wrong++; len(examples) < 5 && !slices.Contains(examples, text) {
				examples = append(examples, text)
			}
			return
		}
		number, _ := strconv.ParseInt(id, 10, 64) // of a data file, whose records are numbered
		values[number] = now
	})
	if err != nil {
		return nil, err
	}
	if n := len(valuesOf(values)); to == schema.Choice && n > mostChoices {
		return nil, fault.New(
			fault.Invalid,
			"/kind",
			"It has %d different values; a field has at most %d choices.",
			n,
			mostChoices,
		)
	}
	if wrong > 0 {
		return nil, fault.New(fault.Invalid, "/kind", "%s %s no %s: “%s”%s. Change them first.",
			some(wrong, "record"), map[bool]string{true: "has", false: "have"}[wrong == 1], to.Words(),
			strings.Join(examples, "”, “"), map[bool]string{true: " and others", false: ""}[wrong > len(examples)])
	}
	return values, nil
}

// checked is a field as it is kept, or why it cannot be so. but is its key, where there is one; choices are those that it
// has.
func checked(
	v *answers.View,
	t *schema.Type,
	but string,
	e FieldEdit,
	choices []string,
) (out schema.AdditionField, err error) {
	label, err := labelOf(t, e.Label, but)
	if err != nil {
		return out, err
	}
	if !slices.Contains(kinds, e.Kind) {
		return out, fault.New(fault.Invalid, "/kind", "Choose what kind of values the field has.")
	}
	out = schema.AdditionField{
		Label:       label,
		Kind:        e.Kind,
		Description: naming.Tidy(e.Description),
		Required:    e.Required,
		Unique:      e.Unique && e.Kind != schema.YesNo,
		Retired:     e.Retired,
	}
	if utf8.RuneCountInString(out.Description) > mostHelp {
		return out, fault.New(fault.Invalid, "/description", "Say it in at most %d characters.", mostHelp)
	}
	field := schema.Field{Key: "value", Label: label, Kind: e.Kind, Choices: choices}
	if e.Kind.Numeric() || e.Kind.Dated() {
		for _, end := range []struct {
			name string
			text string
			to   *string
		}{{"least", e.Least, &out.Least}, {"most", e.Most, &out.Most}} {
			if *end.to, err = entry.Check(&field, end.text, v.Snap.Cal); err != nil {
				return out, fault.New(fault.Invalid, "/"+end.name, "%s.", brief.Capital(err.Error()))
			}
		}
		field.Least, field.Most = out.Least, out.Most
	}
	if out.Formula = strings.TrimSpace(e.Formula); out.Formula != "" {
		return out, workedOut(v, t, e, &out)
	}
	switch e.Kind {
	case schema.YesNo:
		for _, w := range []struct {
			name, text string
			to         *string
		}{{"yes", e.Yes, &out.Yes}, {"no", e.No, &out.No}} {
			if *w.to = naming.Tidy(w.text); utf8.RuneCountInString(*w.to) > 30 {
				return out, fault.New(fault.Invalid, "/"+w.name, "Say it in at most 30 characters.")
			}
		}
		says := schema.Field{Yes: out.Yes, No: out.No}
		if column.Fold(says.Word(true)) == column.Fold(says.Word(false)) {
			return out, fault.New(fault.Invalid, "/no", "The two are called differently.")
		}
	case schema.Number:
		if out.Unit = naming.Tidy(e.Unit); utf8.RuneCountInString(out.Unit) > 20 {
			return out, fault.New(fault.Invalid, "/unit", "A unit has at most 20 characters.")
		}
	case schema.Text:
		if !slices.Contains([]string{"", "email", "phone", "page"}, e.Format) {
			return out, fault.New(fault.Invalid, "/format", "A text is any, or an e-mail address, a telephone number or a page.")
		}
		out.Format, field.Format = e.Format, e.Format
	case schema.Date, schema.Time:
		if out.Phrase, err = phraseOf(t, but, e.Phrase); err != nil {
			return out, err
		}
	case schema.Link:
		if out.To, out.Back, err = linkOf(v, e); err != nil {
			return out, err
		}
		return out, nil
	}
	if out.Default, err = entry.Check(&field, e.Default, v.Snap.Cal); err != nil {
		return out, fault.New(fault.Invalid, "/default", "%s.", brief.Capital(err.Error()))
	}
	if out.Unique && out.Default != "" {
		return out, fault.New(
			fault.Invalid,
			"/default",
			"Two records could not both begin with it, as no two may have the same.",
		)
	}
	return out, nil
}

// workedOut is a field that a formula works out: it is neither filled in nor held to anything.
func workedOut(v *answers.View, t *schema.Type, e FieldEdit, out *schema.AdditionField) error {
	if !e.Kind.Numeric() {
		return fault.New(fault.Invalid, "/kind", "A formula gives a number, an amount of money or a percentage.")
	}
	if out.Unit = naming.Tidy(e.Unit); utf8.RuneCountInString(out.Unit) > 20 || e.Kind != schema.Number {
		out.Unit = ""
	}
	out.Least, out.Most, out.Required, out.Unique = "", "", false, false
	if err := brief.CheckFormula(v.Snap.Schema, t.Key, out.Formula); err != nil {
		return fault.New(fault.Invalid, "/formula", "%s.", brief.Capital(err.Error()))
	}
	return nil
}

// formulasHold refuses a change of a field that formulas of others could not be worked out with any more.
func formulasHold(v *answers.View, typ, key string, to schema.AdditionField) error {
	set := v.Snap.Schema.Settings
	putField(&set, typ, key, to)
	now, err := schema.New(set)
	if err != nil {
		return fault.New(fault.Invalid, "", "%s.", brief.Capital(strings.TrimPrefix(err.Error(), "settings: ")))
	}
	for _, t := range now.Types {
		for i := range t.Fields {
			f := &t.Fields[i]
			if f.Formula() == "" {
				continue
			}
			was := brief.CheckFormula(v.Snap.Schema, t.Key, f.Formula())
			if err := brief.CheckFormula(now, t.Key, f.Formula()); err != nil && (was == nil || f.Key == key) {
				pointer := "/kind"
				if f.Key == key && t.Key == typ {
					pointer = "/formula"
				}
				return fault.New(fault.Invalid, pointer, "The formula of %s: %s.", f.Label, err)
			}
		}
	}
	return nil
}

// SetLimit says who sees and who changes a field, of any kind.
func (s *Shape) SetLimit(
	ctx context.Context, v *answers.View, typ, key string, l schema.Limit, version int,
) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say who sees a field.")
	}
	t, err := shaped(v, typ)
	if err != nil {
		return err
	}
	f := t.Field(key)
	if f == nil {
		return fault.New(fault.NotFound, "", "%s have no field “%s”.", t.Label, key)
	}
	if l.See != "" && v.Snap.Schema.Needed(t, f) {
		return fault.New(fault.Invalid, "/see", "%s is seen by everyone who sees the %s.", f.Label, t.One)
	}
	return s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		if set.Limits = maps.Clone(set.Limits); set.Limits == nil {
			set.Limits = map[string]schema.Limit{}
		}
		if set.Limits[typ+"."+key] = l; l == (schema.Limit{}) {
			delete(set.Limits, typ+"."+key)
		}
		return nil
	})
}

// phraseOf is how a sentence says a date field, which no other date of its type is said by.
func phraseOf(t *schema.Type, but, text string) (string, error) {
	text = strings.ToLower(naming.Tidy(text))
	if text == "" {
		return "", nil
	}
	if !phrase.MatchString(text) || utf8.RuneCountInString(text) > 60 {
		return "", fault.New(fault.Invalid, "/phrase", "A phrase is one to six words, as “due” or “expected to arrive”.")
	}
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Key != but && f.Kind.Dated() &&
			(f.Phrase == text || column.Fold(f.Label) == column.Fold(text)) {
			return "", fault.New(fault.Taken, "/phrase", "A sentence says %s so already.", f.Label)
		}
	}
	return text, nil
}

// linkOf is where a link leads, and what it is called from there.
func linkOf(v *answers.View, e FieldEdit) (to, back string, err error) {
	target := v.Snap.Schema.Type(e.To)
	if target == nil || target.History {
		return "", "", fault.New(fault.Invalid, "/to", "Choose which records the link leads to.")
	}
	back = brief.Capital(naming.Tidy(e.Back))
	if utf8.RuneCountInString(back) > mostName {
		return "", "", fault.New(fault.Invalid, "/back", "Name it in at most %d characters.", mostName)
	}
	return e.To, back, nil
}

// DropField takes a field of one's own away with all its values. One that reports use is refused, with their titles.
func (s *Shape) DropField(ctx context.Context, v *answers.View, typ, key string, version int) error {
	t, f, err := ownField(v, typ, key)
	if err != nil {
		return err
	}
	if t.Added && f.Key == t.Name {
		return fault.New(fault.Invalid, "", "“%s” names each %s. It stays.", f.Label, t.One)
	}
	if f.Key == t.Owner && v.EveryonesSight().Limits(typ) {
		return fault.New(
			fault.Invalid,
			"",
			"Not everyone sees all %s, which goes by their owner. Change that under Settings first.",
			strings.ToLower(t.Label),
		)
	}
	filled, err := filledIn(v, t, f)
	if err != nil {
		return err
	}
	if !f.Retired && filled {
		return fault.New(fault.Invalid, "", "“%s” is retired first: it is offered no more, and reports that read it say so.",
			f.Label)
	}
	used, err := s.UsedBy(ctx, v, typ, key)
	if err != nil {
		return err
	}
	if err := unused(f.Label, used); err != nil {
		return err
	}
	return s.reshape(ctx, v, version, func(w *store.Writer, set *schema.Settings) error {
		without(set, typ, key)
		return s.colour(ctx, w, typ, key, nil)
	})
}

// filledIn says whether any record has a value of a field.
func filledIn(v *answers.View, t *schema.Type, f *schema.Field) (some bool, err error) {
	if f.Worked != nil {
		return false, nil
	}
	err = v.Snap.EachText(t.Key, f.Key, func(int32, string, string) { some = true })
	return some, err
}

// without takes a field of one's own out of settings.
func without(set *schema.Settings, typ, key string) {
	types := maps.Clone(set.Types)
	a := types[typ]
	a.Fields = maps.Clone(a.Fields)
	delete(a.Fields, key)
	types[typ] = a
	if len(a.Fields) == 0 && a.Label == "" && a.Icon == "" {
		delete(types, typ)
	}
	set.Types = types
	set.Choices = maps.Clone(set.Choices)
	delete(set.Choices, typ+"."+key)
	set.Limits = maps.Clone(set.Limits)
	delete(set.Limits, typ+"."+key)
}

// UsedBy lists the titles of the reports that use a field of one's own.
func (s *Shape) UsedBy(ctx context.Context, v *answers.View, typ, key string) ([]string, error) {
	if _, _, err := ownField(v, typ, key); err != nil {
		return nil, err
	}
	set := v.Snap.Schema.Settings
	without(&set, typ, key)
	return usedBy(ctx, s.store, v, set)
}

func shaped(v *answers.View, typ string) (*schema.Type, error) {
	if err := may(v); err != nil {
		return nil, err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil || t.History {
		return nil, fault.New(fault.NotFound, "", "There is no record type “%s” that has fields of your own.", typ)
	}
	return t, nil
}

func ownField(v *answers.View, typ, key string) (*schema.Type, *schema.Field, error) {
	t, err := shaped(v, typ)
	if err != nil {
		return nil, nil, err
	}
	f := t.Field(key)
	if f == nil || !f.Added {
		return nil, nil, fault.New(fault.NotFound, "", "%s have no field of your own “%s”.", t.Label, key)
	}
	return t, f, nil
}

// labelOf tidies the label of a field, which no other field of the type has.
func labelOf(t *schema.Type, label, but string) (string, error) {
	label = brief.Capital(naming.Tidy(label))
	if label == "" || len([]rune(label)) > mostName {
		return "", fault.New(fault.Invalid, "/label", "Name the field in at most %d characters.", mostName)
	}
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Key != but && column.Fold(f.Label) == column.Fold(label) {
			return "", fault.New(fault.Taken, "/label", "%s have a field “%s” already.", t.Label, f.Label)
		}
	}
	return label, nil
}
