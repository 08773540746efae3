package shape

import (
	"context"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// TypeEdit is what records are called, many and one, and the drawing they are shown with, one of schema.Icons or none;
// Owned says whether each of a new type belongs to a person.
type TypeEdit struct {
	Label string
	One   string
	Icon  string
	Owned bool
}

// TypeUse is what goes with a record type of one's own where it is taken away.
type TypeUse struct {
	Records int
	Reports []string // their titles
	Links   []string // the fields of other types that lead to it
}

// AddType adds a record type whose records have a name, and an owner where they are owned. It gives its key.
func (s *Shape) AddType(ctx context.Context, v *answers.View, e TypeEdit, version int) (string, error) {
	if err := may(v); err != nil {
		return "", err
	}
	label, one, err := wordsOf(v, "", e)
	if err != nil {
		return "", err
	}
	added, order := 0, 0
	for key, a := range v.Snap.Schema.Settings.Types {
		if t := v.Snap.Schema.Type(key); t != nil && t.Added {
			added, order = added+1, max(order, a.Order)
		}
	}
	if added >= mostTypes {
		return "", fault.New(fault.Invalid, "", "There are %d record types of your own, as many as there can be.", added)
	}
	key := naming.FreeKey(label, func(key string) bool { return v.Snap.Schema.Type(key) != nil })
	readers := v.Snap.Schema.Readers()
	return key, s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		a := schema.Addition{Label: label, One: one, Icon: e.Icon, Order: order + 1, Fields: map[string]schema.AdditionField{
			"name": {Label: "Name", Kind: schema.Text, Required: true, Order: 1},
		}}
		if e.Owned {
			a.Fields["owner"] = schema.AdditionField{Label: "Owner", Kind: schema.Link, To: readers.Key, Order: 2}
		}
		if set.Types = maps.Clone(set.Types); set.Types == nil {
			set.Types = map[string]schema.Addition{}
		}
		set.Types[key] = a
		return nil
	})
}

// SetType calls records otherwise, those that come with the program too, and shows them with another drawing: everywhere
// from then on.
func (s *Shape) SetType(ctx context.Context, v *answers.View, typ string, e TypeEdit, version int) error {
	if _, err := shaped(v, typ); err != nil {
		return err
	}
	label, one, err := wordsOf(v, typ, e)
	if err != nil {
		return err
	}
	return s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		if set.Types = maps.Clone(set.Types); set.Types == nil {
			set.Types = map[string]schema.Addition{}
		}
		a := set.Types[typ]
		a.Label, a.One, a.Icon = label, one, e.Icon
		set.Types[typ] = a
		return nil
	})
}

// DropType takes a record type of one's own away with its records. One that reports use, or that other records link to, is
// refused.
func (s *Shape) DropType(ctx context.Context, v *answers.View, typ string, version int) error {
	use, err := s.TypeUsedBy(ctx, v, typ)
	if err != nil {
		return err
	}
	t := v.Snap.Schema.Type(typ)
	if len(use.Links) > 0 {
		return fault.New(fault.Invalid, "", "%s lead to %s. Take them away first.",
			strings.Join(use.Links, ", "), strings.ToLower(t.Label))
	}
	if err := unused(t.Label, use.Reports); err != nil {
		return err
	}
	return s.reshape(ctx, v, version, func(w *store.Writer, set *schema.Settings) error {
		withoutType(set, typ)
		for i := range t.Fields {
			if err := s.colour(ctx, w, typ, t.Fields[i].Key, nil); err != nil {
				return err
			}
		}
		return nil
	})
}

// TypeUsedBy says what uses a record type of one's own.
func (s *Shape) TypeUsedBy(ctx context.Context, v *answers.View, typ string) (use TypeUse, err error) {
	t, err := shaped(v, typ)
	if err != nil {
		return use, err
	}
	if !t.Added {
		return use, fault.New(fault.Invalid, "", "%s come with the program, and stay.", t.Label)
	}
	table, err := v.Snap.Table(typ)
	if err != nil {
		return use, err
	}
	use.Records = table.N
	for _, other := range v.Snap.Schema.Types {
		for i := range other.Fields {
			if f := &other.Fields[i]; f.Kind == schema.Link && f.To == typ && other != t {
				use.Links = append(use.Links, other.Label+" › "+f.Label)
			}
		}
	}
	if len(use.Links) > 0 {
		return use, nil // without it, the settings would contradict themselves
	}
	set := v.Snap.Schema.Settings
	withoutType(&set, typ)
	use.Reports, err = usedBy(ctx, s.store, v, set)
	return use, err
}

// SetRail sets the order in which record types are offered; those that are left out come after.
func (s *Shape) SetRail(ctx context.Context, v *answers.View, order []string, version int) error {
	if err := may(v); err != nil {
		return err
	}
	for i, key := range order {
		switch {
		case !slices.Contains(v.Snap.Schema.Rail, key):
			return fault.New(fault.Invalid, "/order", "No records “%s” are offered.", key)
		case slices.Contains(order[:i], key):
			return fault.New(fault.Invalid, "/order", "“%s” stands twice.", key)
		}
	}
	return s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		set.Rail = order
		return nil
	})
}

// withoutType takes a record type out of settings, with the choices of its fields.
func withoutType(set *schema.Settings, typ string) {
	set.Types = maps.Clone(set.Types)
	delete(set.Types, typ)
	set.Rail = slices.DeleteFunc(slices.Clone(set.Rail), func(key string) bool { return key == typ })
	set.Limits = maps.Clone(set.Limits)
	maps.DeleteFunc(set.Limits, func(at string, _ schema.Limit) bool { return strings.HasPrefix(at, typ+".") })
	set.Choices = maps.Clone(set.Choices)
	maps.DeleteFunc(set.Choices, func(key string, _ []string) bool { return strings.HasPrefix(key, typ+".") })
}

// wordsOf are the words for records, many and one, that no other records are called by.
func wordsOf(v *answers.View, but string, e TypeEdit) (label, one string, err error) {
	label, one = brief.Capital(naming.Tidy(e.Label)), strings.ToLower(naming.Tidy(e.One))
	if e.Icon != "" && !slices.Contains(schema.Icons, e.Icon) {
		return "", "", fault.New(fault.Invalid, "/icon", "There is no such drawing.")
	}
	if n := utf8.RuneCountInString(label); n == 0 || n > 60 {
		return "", "", fault.New(fault.Invalid, "/label", "Say what many of them are called, in at most 60 characters.")
	}
	if n := utf8.RuneCountInString(one); n == 0 || n > 60 {
		return "", "", fault.New(fault.Invalid, "/one", "Say what one of them is called, in at most 60 characters.")
	}
	for _, t := range v.Snap.Schema.Types {
		if t.Key == but {
			continue
		}
		for pointer, word := range map[string]string{"/label": label, "/one": one} {
			if column.Fold(word) == column.Fold(t.Label) || column.Fold(word) == column.Fold(t.One) {
				return "", "", fault.New(fault.Taken, pointer, "%s are called so already.", t.Label)
			}
		}
	}
	return label, one, nil
}
