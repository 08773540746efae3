package desk

import (
	"context"
	"encoding/json"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/internal/store"
)

// Where the house style and those kept by name are kept.
const (
	houseStyle = "house style"
	keptStyles = "styles"
)

// MaxStyles is how many styles are kept by name at most.
const MaxStyles = 100

// looks are the house style and the styles that are kept by name. They are never changed, only replaced.
type looks struct {
	house chart.Style
	kept  []KeptStyle
	byKey map[string]chart.Style
	// versions are those of the house style and of the list of styles.
	versions map[string]int
}

// KeptStyle is a style that charts ask for by its key.
type KeptStyle struct {
	Key   string      `json:"key"`
	Name  string      `json:"name"`
	Owner int64       `json:"owner"`
	Style chart.Style `json:"style"`
	// Version counts its changes.
	Version int `json:"version,omitempty"`
}

func (d *Desk) readLooks(ctx context.Context) (*looks, error) {
	l := looks{byKey: map[string]chart.Style{}, versions: map[string]int{}}
	for name, to := range map[string]any{houseStyle: &l.house, keptStyles: &l.kept} {
		text, version, err := d.store.Preference(ctx, name)
		if err == nil && text != "" {
			err = json.Unmarshal([]byte(text), to)
		}
		if err != nil {
			return nil, err
		}
		l.versions[name] = version
	}
	for _, k := range l.kept {
		l.byKey[k.Key] = k.Style
	}
	return &l, nil
}

// keepLooks keeps a changed house style, or changed styles, and has every open window draw anew.
func (d *Desk) keepLooks(ctx context.Context, name string, what any, version int) error {
	text, err := json.Marshal(what)
	if err != nil {
		return err
	}
	if err := d.store.SetPreference(ctx, name, string(text), version); err != nil {
		return mapStore(err, "style")
	}
	d.settled(ctx, d.looks.refresh)
	d.tell(Event{Kind: KindRecords})
	return nil
}

// Style is the house style, and its version.
func (d *Desk) Style() (style chart.Style, version int) {
	l := d.looks.now()
	return l.house, l.versions[houseStyle]
}

// SetStyle sets the house style: what it says holds for every chart that says nothing else.
func (d *Desk) SetStyle(ctx context.Context, who Person, s chart.Style, version int) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators set the house style.")
	}
	if err := s.Check(d.Snapshot().Schema); err != nil {
		return fail(Invalid, "/style", "%s.", err)
	}
	return d.keepLooks(ctx, houseStyle, s, version)
}

// Styles lists the styles that are kept by name.
func (d *Desk) Styles() []KeptStyle { return slices.Clone(d.looks.now().kept) }

// MayChangeStyle says whether a person may change or delete a kept style: who made it, and administrators.
func (k KeptStyle) MayChangeStyle(who Person) bool {
	return who.Role == Administrator || (who.MayCompose() && k.Owner == who.ID)
}

// StyleOwner is the name of who made a kept style.
func (d *Desk) StyleOwner(k KeptStyle) string { return d.personName(k.Owner) }

// KeepStyle keeps a style by name: a new one where the key is empty, else the one that has the key.
func (d *Desk) KeepStyle(ctx context.Context, who Person, key, name string, s chart.Style, version int) (KeptStyle, error) {
	if !who.MayCompose() {
		return KeptStyle{}, fail(Forbidden, "", "Only composers and administrators keep styles.")
	}
	name, err := title(name, "/name")
	if err != nil {
		return KeptStyle{}, err
	}
	if len(s.Values) > 0 {
		return KeptStyle{}, fail(Invalid, "/style/values", "The colours of values are the house style’s, so that they are the same on every chart.")
	}
	if err := s.Check(d.Snapshot().Schema); err != nil {
		return KeptStyle{}, fail(Invalid, "/style", "%s.", err)
	}
	d.changing.Lock()
	defer d.changing.Unlock()
	list, at := d.Styles(), -1
	if key != "" {
		if list, at, err = d.changeableStyle(who, key); err != nil {
			return KeptStyle{}, err
		}
	}
	switch {
	case slices.ContainsFunc(list, func(k KeptStyle) bool { return k.Key != key && strings.EqualFold(k.Name, name) }):
		return KeptStyle{}, fail(Taken, "/name", "There is a style named “%s” already.", name)
	case key != "" && list[at].Version != version:
		return KeptStyle{}, mapStore(store.ErrStale, "style")
	case key == "" && len(list) >= MaxStyles:
		return KeptStyle{}, fail(Invalid, "", "%d styles are kept at most.", MaxStyles)
	}
	k := KeptStyle{Key: key, Name: name, Owner: who.ID, Style: s}
	if key == "" {
		k.Key = freeKey(name, func(key string) bool {
			return slices.ContainsFunc(list, func(k KeptStyle) bool { return k.Key == key })
		})
		list = append(list, k)
	} else {
		k.Owner, k.Version = list[at].Owner, version+1
		list[at] = k
	}
	return k, d.keepLooks(ctx, keptStyles, list, d.looks.now().versions[keptStyles])
}

// changeableStyle finds the place of a kept style that is to be changed, among all of them.
func (d *Desk) changeableStyle(who Person, key string) (list []KeptStyle, at int, err error) {
	list = d.Styles()
	at = slices.IndexFunc(list, func(k KeptStyle) bool { return k.Key == key })
	switch {
	case at < 0:
		err = fail(NotFound, "", "There is no such style.")
	case !list[at].MayChangeStyle(who):
		err = fail(Forbidden, "", "This style is %s’s.", d.StyleOwner(list[at]))
	}
	return list, at, err
}

// DropStyle deletes a kept style. Charts that ask for it follow the house style, and say so.
func (d *Desk) DropStyle(ctx context.Context, who Person, key string) error {
	d.changing.Lock()
	defer d.changing.Unlock()
	list, at, err := d.changeableStyle(who, key)
	if err != nil {
		return err
	}
	return d.keepLooks(ctx, keptStyles, slices.Delete(list, at, at+1), d.looks.now().versions[keptStyles])
}

// Dress has a report's chart ask for a kept style, and say nothing of its own that the style says; an empty key has it
// follow the house style.
func (d *Desk) Dress(ctx context.Context, who Person, id int64, key string) (Report, error) {
	r, err := d.changeable(ctx, who, id)
	if err != nil {
		return r, err
	}
	if _, ok := d.looks.now().byKey[key]; key != "" && !ok {
		return r, fail(Invalid, "/style", "There is no such style.")
	}
	b := *r.whole
	switch {
	case b.Chart != nil:
		b.Chart = dressed(b.Chart, key)
	case len(b.Groups) == 0:
		return r, fail(Invalid, "", "“%s” has no groups, and so no chart.", r.Title)
	default:
		b.Chart = &brief.Chart{Kind: "column", Style: key}
	}
	text, err := json.Marshal(&b)
	if err != nil {
		return r, err
	}
	r.row.Brief, r.row.ChangedBy = string(text), who.ID
	return d.changed(ctx, who, r.row, r.row.Folder)
}

func dressed(c *brief.Chart, key string) *brief.Chart {
	next := *c
	next.Style, next.Palette, next.Legend, next.Guides, next.Labels, next.Totals, next.On = key, nil, "", "", "", "", ""
	return &next
}
