// Package styles keeps how charts look: the house style, which holds for every chart that says nothing else, and styles
// kept by name, which charts ask for by their key.
package styles

import (
	"context"
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"sync"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Where the house style and those kept by name are kept.
const (
	houseStyle = "house style"
	keptStyles = "styles"
)

// MaxStyles is how many styles are kept by name at most.
const MaxStyles = 100

// Looks are the house style and the styles that are kept by name. They are never changed, only replaced.
type Looks struct {
	House chart.Style
	Kept  []Kept
	ByKey map[string]chart.Style
	// versions are those of the house style and of the list of styles.
	versions map[string]int
}

// HouseVersion counts the changes of the house style.
func (l *Looks) HouseVersion() int { return l.versions[houseStyle] }

// Kept is a style that charts ask for by its key.
type Kept struct {
	Key   string      `json:"key"`
	Name  string      `json:"name"`
	Owner int64       `json:"owner"`
	Style chart.Style `json:"style"`
	// Version counts its changes.
	Version int `json:"version,omitempty"`
}

// Read reads the looks that are in force.
func Read(ctx context.Context, s *store.Store) (*Looks, error) {
	l := Looks{ByKey: map[string]chart.Style{}, versions: map[string]int{}}
	for name, to := range map[string]any{houseStyle: &l.House, keptStyles: &l.Kept} {
		text, version, err := s.Preference(ctx, name)
		if err == nil && text != "" {
			err = json.Unmarshal([]byte(text), to)
		}
		if err != nil {
			return nil, err
		}
		l.versions[name] = version
	}
	for _, k := range l.Kept {
		l.ByKey[k.Key] = k.Style
	}
	return &l, nil
}

// Styles keeps styles.
type Styles struct {
	store    *store.Store
	feed     *feed.Hub
	settings *inforce.Settings
	looks    *inforce.Value[Looks]
	mu       sync.Mutex // held while the list of styles is read, changed and kept
}

// New keeps styles in a store; looks are those in force, feed is told of changes.
func New(s *store.Store, f *feed.Hub, settings *inforce.Settings, looks *inforce.Value[Looks]) *Styles {
	return &Styles{store: s, feed: f, settings: settings, looks: looks}
}

// keep keeps a changed house style, or changed styles, and has every open window draw anew.
func (s *Styles) keep(ctx context.Context, name string, what any, version int) error {
	text, err := json.Marshal(what)
	if err != nil {
		return err
	}
	if err := s.store.SetPreference(ctx, name, string(text), version); err != nil {
		return fault.FromStore(err, "style")
	}
	s.settings.Changed(ctx, s.looks)
	s.feed.Tell(feed.Event{Kind: feed.Records})
	return nil
}

// Colour sets the colours that values of a field have on every chart, none for nil, in the transaction of the context.
// What is in force is read anew by whoever asks for it.
func Colour(ctx context.Context, s *store.Store, field string, colours map[string]string) error {
	text, version, err := s.Preference(ctx, houseStyle)
	if err != nil {
		return err
	}
	var style chart.Style
	if text != "" {
		if err := json.Unmarshal([]byte(text), &style); err != nil {
			return err
		}
	}
	if maps.Equal(style.Values[field], colours) {
		return nil
	}
	for v, c := range colours {
		if err := brief.CheckColour(c); err != nil {
			return fault.New(fault.Invalid, "/colours", "Of “%s”: %s.", v, err)
		}
	}
	if style.Values == nil {
		style.Values = map[string]map[string]string{}
	}
	if style.Values[field] = colours; len(colours) == 0 {
		delete(style.Values, field)
	}
	now, err := json.Marshal(style)
	if err != nil {
		return err
	}
	return s.SetPreference(ctx, houseStyle, string(now), version)
}

// SetHouse sets the house style: what it says holds for every chart that says nothing else.
func (s *Styles) SetHouse(ctx context.Context, who people.Person, style chart.Style, version int) error {
	if !who.May(people.Style) {
		return fault.New(fault.Forbidden, "", "Only administrators, and who has the right to, set the house style.")
	}
	if err := style.Check(s.store.Snapshot().Schema); err != nil {
		return fault.New(fault.Invalid, "/style", "%s.", err)
	}
	return s.keep(ctx, houseStyle, style, version)
}

// MayChange says whether a person may change or delete a kept style: who made it, and administrators.
func (k Kept) MayChange(who people.Person) bool {
	return who.May(people.Style) || (who.MayCompose() && k.Owner == who.ID)
}

// Keep keeps a style by name: a new one where the key is empty, else the one that has the key.
func (s *Styles) Keep(
	ctx context.Context,
	who people.Person,
	key, name string,
	style chart.Style,
	version int,
) (Kept, error) {
	if !who.MayCompose() {
		return Kept{}, fault.New(fault.Forbidden, "", "Only composers and administrators keep styles.")
	}
	name, err := naming.Title(name, "/name")
	if err != nil {
		return Kept{}, err
	}
	if len(style.Values) > 0 {
		return Kept{}, fault.New(
			fault.Invalid,
			"/style/values",
			"The colours of values are the house style’s, so that they are the same on every chart.",
		)
	}
	if err := style.Check(s.store.Snapshot().Schema); err != nil {
		return Kept{}, fault.New(fault.Invalid, "/style", "%s.", err)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	list, at := slices.Clone(s.looks.Now().Kept), -1
	if key != "" {
		if list, at, err = s.changeable(who, key); err != nil {
			return Kept{}, err
		}
	}
	switch {
	case slices.ContainsFunc(list, func(k Kept) bool { return k.Key != key && strings.EqualFold(k.Name, name) }):
		return Kept{}, fault.New(fault.Taken, "/name", "There is a style named “%s” already.", name)
	case key != "" && list[at].Version != version:
		return Kept{}, fault.FromStore(store.ErrStale, "style")
	case key == "" && len(list) >= MaxStyles:
		return Kept{}, fault.New(fault.Invalid, "", "%d styles are kept at most.", MaxStyles)
	}
	k := Kept{Key: key, Name: name, Owner: who.ID, Style: style}
	if key == "" {
		k.Key = naming.FreeKey(name, func(key string) bool {
			return slices.ContainsFunc(list, func(k Kept) bool { return k.Key == key })
		})
		list = append(list, k)
	} else {
		k.Owner, k.Version = list[at].Owner, version+1
		list[at] = k
	}
	return k, s.keep(ctx, keptStyles, list, s.looks.Now().versions[keptStyles])
}

// changeable finds the place of a kept style that is to be changed, among all of them.
func (s *Styles) changeable(who people.Person, key string) (list []Kept, at int, err error) {
	list = slices.Clone(s.looks.Now().Kept)
	at = slices.IndexFunc(list, func(k Kept) bool { return k.Key == key })
	switch {
	case at < 0:
		err = fault.New(fault.NotFound, "", "There is no such style.")
	case !list[at].MayChange(who):
		err = fault.New(fault.Forbidden, "", "This style is %s’s.", people.Name(s.store.Snapshot(), list[at].Owner))
	}
	return list, at, err
}

// Drop deletes a kept style. Charts that ask for it follow the house style, and say so.
func (s *Styles) Drop(ctx context.Context, who people.Person, key string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	list, at, err := s.changeable(who, key)
	if err != nil {
		return err
	}
	return s.keep(ctx, keptStyles, slices.Delete(list, at, at+1), s.looks.Now().versions[keptStyles])
}
