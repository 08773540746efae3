package library

import (
	"context"
	"encoding/json"
	"errors"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Version is what a report was once, and in words what the change to it was.
type Version struct {
	store.Version
	Brief  brief.Public
	Who    string
	Change []string
}

// Versions lists what a report was, the newest first.
func (lib *Library) Versions(ctx context.Context, v *answers.View, id int64) ([]Version, error) {
	r, err := lib.Report(ctx, v, id)
	if err != nil {
		return nil, err
	}
	rows, err := lib.store.Versions(ctx, id)
	if err != nil {
		return nil, err
	}
	list := make([]Version, len(rows))
	for i, row := range rows {
		b, err := brief.Decode([]byte(row.Brief))
		if err != nil {
			return nil, err
		}
		shown := brief.ForOwner(b)
		if !r.MayChange {
			shown = brief.ForReader(b)
		}
		list[i] = Version{Version: row, Brief: shown, Who: people.Name(v.Snap, row.Person)}
	}
	for i := range list {
		if i+1 == len(list) {
			list[i].Change = []string{"first kept"}
			continue
		}
		now, was := &list[i], &list[i+1]
		now.Change = lib.Difference(v, was.Brief.Brief(), now.Brief.Brief())
		if now.Title != was.Title {
			now.Change = append(now.Change, "named “"+now.Title+"”, was “"+was.Title+"”")
		}
		if now.Description != was.Description {
			now.Change = append(now.Change, "another description")
		}
		if len(now.Change) == 0 {
			now.Change = []string{"where it is kept, or who owns it"}
		}
	}
	return list, nil
}

// Difference says in words what one brief has that another has not.
func (lib *Library) Difference(v *answers.View, was, now *brief.Brief) []string {
	a, err := v.Bind(was)
	if err != nil {
		return []string{"from a report that today’s fields no longer allow"}
	}
	b, err := v.Bind(now)
	if err != nil {
		return nil
	}
	return brief.Difference(v.Say(a), v.Say(b))
}

// BringVersionBack makes a report what it was at a version.
func (lib *Library) BringVersionBack(ctx context.Context, v *answers.View, id int64, version int) (Report, error) {
	was, err := lib.changeable(ctx, v, id)
	if err != nil {
		return Report{}, err
	}
	rows, err := lib.store.Versions(ctx, id)
	if err != nil {
		return Report{}, err
	}
	for _, row := range rows {
		if row.Version != version {
			continue
		}
		b, err := brief.Decode([]byte(row.Brief))
		if err != nil {
			return Report{}, err
		}
		if _, err := v.Bind(b); err != nil {
			return Report{}, err
		}
		r := was.row
		r.Title, r.Description, r.Brief, r.ChangedBy = row.Title, row.Description, row.Brief, v.Who.ID
		return lib.changed(ctx, v, r, r.Folder)
	}
	return Report{}, fault.FromStore(store.ErrNotFound, "version")
}

// Draft is work that a person did not keep yet.
type Draft struct {
	store.Draft
	Brief   brief.Public
	Title   string // of the report it is of
	Reading int64  // the report whose fixed conditions hold for it, 0 for none
}

// Drafts lists a person's drafts. Those of reports that the person may no longer open are left out.
func (lib *Library) Drafts(ctx context.Context, v *answers.View) ([]Draft, error) {
	rows, err := lib.store.Drafts(ctx, v.Who.ID)
	list := []Draft{}
	for _, r := range rows {
		b, err := brief.Decode([]byte(r.Brief))
		if err != nil {
			continue // of a format that is no longer read
		}
		draft := Draft{Draft: r, Brief: brief.ForOwner(b)}
		if r.Report != nil {
			of, err := lib.Report(ctx, v, *r.Report)
			if err != nil {
				continue
			}
			draft.Title, draft.Reading = of.Title, of.Reading()
			if of.Fixed { // what was kept by someone who could change the report then
				draft.Brief = brief.ForReader(b)
			}
		}
		list = append(list, draft)
	}
	return list, err
}

// KeepDraft keeps what is being composed. It need not be right yet, only a brief.
func (lib *Library) KeepDraft(ctx context.Context, v *answers.View, draft store.Draft, b *brief.Brief) (Draft, error) {
	if !v.MayKeep() {
		return Draft{}, fault.New(fault.Forbidden, "", "Only composers and administrators keep drafts.")
	}
	out := Draft{Brief: brief.ForOwner(b)}
	if draft.Report != nil {
		of, err := lib.Report(ctx, v, *draft.Report)
		if err != nil {
			return Draft{}, err
		}
		out.Title, out.Reading = of.Title, of.Reading()
	}
	text, err := json.Marshal(out.Brief)
	if err != nil {
		return Draft{}, err
	}
	draft.Person, draft.Brief = v.Who.ID, string(text)
	err = lib.store.PutDraft(ctx, &draft)
	out.Draft = draft
	if errors.Is(err, store.ErrStale) {
		return out, fault.New(
			fault.Stale,
			"",
			"This report is being changed in another window, too. What you see here is kept in this window; open the draft to see the other.",
		)
	}
	return out, err
}

// DropDraft throws a draft away.
func (lib *Library) DropDraft(ctx context.Context, v *answers.View, id int64) error {
	return lib.store.DropDraft(ctx, v.Who.ID, id)
}

// Dismissed lists the warnings that were dismissed for a report.
func (lib *Library) Dismissed(ctx context.Context, v *answers.View, id int64) ([]string, error) {
	if _, err := lib.Report(ctx, v, id); err != nil {
		return nil, err
	}
	return lib.store.Dismissed(ctx, id)
}

// Dismiss dismisses a warning for a report, for everyone.
func (lib *Library) Dismiss(ctx context.Context, v *answers.View, id int64, code string) error {
	if _, err := lib.changeable(ctx, v, id); err != nil {
		return err
	}
	if code == "" || len(code) > 300 {
		return fault.New(fault.Invalid, "/code", "Name the warning.")
	}
	return lib.store.Dismiss(ctx, id, v.Who.ID, code)
}
