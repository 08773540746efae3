package admin

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// PageLayout is how the page of a record is laid out: the fields that matter first, fields in sections, and which records
// that link to it are listed, in their order. What it does not say is as it comes.
type PageLayout struct {
	First    []string  `json:"first,omitempty" doc:"Fields at the head of the page"`
	Sections []Section `json:"sections,omitempty" doc:"Fields under headings; all others come after them"`
	Lists    []string  `json:"lists,omitempty" doc:"Links back whose records are listed; all where none is named"`
}

// Section is fields under a heading.
type Section struct {
	Heading string   `json:"heading"`
	Fields  []string `json:"fields"`
}

const (
	pageLayouts = "page "
	maxFirst    = 6
	maxSections = 12
)

func pageKey(typ string, team int64) string {
	if team == 0 {
		return pageLayouts + typ
	}
	return pageLayouts + typ + " team " + strconv.FormatInt(team, 10)
}

// PageLayout is how the pages of a record type are laid out for a team (0 for all who have none of their own): nil where
// that is as it comes.
func (a *Admin) PageLayout(ctx context.Context, typ string, team int64) (*PageLayout, int, error) {
	text, version, err := a.store.Preference(ctx, pageKey(typ, team))
	if err != nil || text == "" || text == "null" {
		return nil, version, err
	}
	var l PageLayout
	err = json.Unmarshal([]byte(text), &l)
	return &l, version, err
}

// PageFor is how a person sees the pages of a record type: as the team's are laid out, or those of all.
func (a *Admin) PageFor(ctx context.Context, v *answers.View, typ string) (*PageLayout, error) {
	if v.Who.TeamID != 0 {
		if l, _, err := a.PageLayout(ctx, typ, v.Who.TeamID); l != nil || err != nil {
			return l, err
		}
	}
	l, _, err := a.PageLayout(ctx, typ, 0)
	return l, err
}

// SetPageLayout lays out the pages of a record type for a team, or for all; nil has them be as they come.
func (a *Admin) SetPageLayout(
	ctx context.Context, v *answers.View, typ string, team int64, l *PageLayout, version int,
) error {
	t, err := mayLayOut(v, typ, team)
	if err != nil {
		return err
	}
	text := "null"
	if l != nil {
		if err := l.check(t, false); err != nil {
			return err
		}
		data, err := json.Marshal(l)
		if err != nil {
			return err
		}
		text = string(data)
	}
	err = a.store.SetPreference(store.By(ctx, v.Who.ID), pageKey(typ, team), text, version)
	if err == nil {
		a.feed.Tell(feed.Event{Kind: feed.Settings})
	}
	return fault.FromStore(err, "setting")
}

// mayLayOut is the record type whose pages are laid out, where one may do that and there are the type and the team.
func mayLayOut(v *answers.View, typ string, team int64) (*schema.Type, error) {
	if !v.Who.May(people.LayOut) {
		return nil, fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return nil, fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	readers := v.Snap.Schema.Readers()
	if team != 0 && v.Snap.NameOf(readers.Field(readers.Team).To, strconv.FormatInt(team, 10), nil) == "" {
		return nil, fault.New(fault.NotFound, "", "There is no such team.")
	}
	return t, nil
}

// PageDraft is how a person is laying out the pages of a record type, for a team or (0) for all, without having saved it.
type PageDraft struct {
	Layout   PageLayout `json:"layout"`
	Version  int        `json:"version" doc:"Of the layout that is being changed"`
	Revision int        `json:"revision" doc:"0 for none; kept with the one it was read at, 0 for a new one"`
	Changed  int64      `json:"changed,omitempty" doc:"Unix seconds"`
}

// PageDraft is what a person has left unsaved of the pages of a record type; revision 0 is none.
func (a *Admin) PageDraft(ctx context.Context, v *answers.View, typ string, team int64) (PageDraft, error) {
	if _, err := mayLayOut(v, typ, team); err != nil {
		return PageDraft{}, err
	}
	row, err := a.store.PageDraft(ctx, v.Who.ID, typ, team)
	if errors.Is(err, store.ErrNotFound) {
		return PageDraft{}, nil
	}
	d := PageDraft{Version: row.Version, Revision: row.Revision, Changed: row.Changed}
	if err == nil {
		err = json.Unmarshal([]byte(row.Layout), &d.Layout)
	}
	return d, err
}

// KeepPageDraft keeps how pages are being laid out. A section of it may still be without a heading; all else is as it must
// be to be saved.
func (a *Admin) KeepPageDraft(
	ctx context.Context, v *answers.View, typ string, team int64, d PageDraft,
) (PageDraft, error) {
	t, err := mayLayOut(v, typ, team)
	if err == nil {
		err = d.Layout.check(t, true)
	}
	if err != nil {
		return d, err
	}
	text, err := json.Marshal(d.Layout)
	if err != nil {
		return d, err
	}
	row := store.PageDraft{
		Person: v.Who.ID, Type: typ, Team: team, Version: d.Version, Layout: string(text), Revision: d.Revision,
	}
	err = a.store.PutPageDraft(ctx, &row)
	if errors.Is(err, store.ErrStale) {
		return d, fault.New(
			fault.Stale,
			"",
			"These pages are being laid out in another window, too. What you see here is kept in this window; open it again to see the other.",
		)
	}
	d.Revision, d.Changed = row.Revision, row.Changed
	return d, err
}

// DropPageDraft throws away what a person has left unsaved of the pages of a record type.
func (a *Admin) DropPageDraft(ctx context.Context, v *answers.View, typ string, team int64) error {
	if _, err := mayLayOut(v, typ, team); err != nil {
		return err
	}
	return a.store.DropPageDraft(ctx, v.Who.ID, typ, team)
}

// check says what is wrong with a layout. The headings of sections are typed last: a draft may be without.
func (l *PageLayout) check(t *schema.Type, draft bool) error {
	if len(l.First) > maxFirst || len(l.Sections) > maxSections {
		return fault.New(
			fault.Invalid,
			"/layout",
			"A page has up to %d fields at its head, and %d sections.",
			maxFirst,
			maxSections,
		)
	}
	seen := map[string]bool{}
	for i := range l.Sections {
		s := &l.Sections[i]
		s.Heading = strings.TrimSpace(s.Heading)
		if (s.Heading == "" && !draft) || utf8.RuneCountInString(s.Heading) > 80 {
			return fault.New(
				fault.Invalid,
				"/layout/sections/"+strconv.Itoa(i)+"/heading",
				"A section has a heading of up to 80 characters.",
			)
		}
		for _, f := range s.Fields {
			if seen[f] {
				return fault.New(fault.Invalid, "/layout/sections/"+strconv.Itoa(i), "A field stands in one section.")
			}
			seen[f] = true
		}
	}
	for _, list := range append([][]string{l.First}, fieldsOf(l.Sections)...) {
		for _, f := range list {
			if t.Field(f) == nil {
				return fault.New(fault.Invalid, "/layout", "%s have no field “%s”.", t.Label, f)
			}
		}
	}
	if len(l.Lists) > len(t.Backs) {
		return fault.New(fault.Invalid, "/layout/lists", "Linked records are listed once.")
	}
	for _, key := range l.Lists {
		if !slices.ContainsFunc(t.Backs, func(b schema.Back) bool { return b.Key == key }) {
			return fault.New(fault.Invalid, "/layout/lists", "Nothing of this name links to %s.", strings.ToLower(t.Label))
		}
	}
	return nil
}

func fieldsOf(list []Section) [][]string {
	var out [][]string
	for _, s := range list {
		out = append(out, s.Fields)
	}
	return out
}
