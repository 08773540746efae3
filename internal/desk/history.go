package desk

import (
	"context"
	"encoding/json"
	"errors"

	"uzzel/core/brief"
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
func (d *Desk) Versions(ctx context.Context, who Person, id int64) ([]Version, error) {
	r, err := d.Report(ctx, who, id)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.Versions(ctx, id)
	if err != nil {
		return nil, err
	}
	list := make([]Version, len(rows))
	for i, v := range rows {
		b, err := brief.Decode([]byte(v.Brief))
		if err != nil {
			return nil, err
		}
		shown := brief.ForOwner(b)
		if !r.MayChange {
			shown = brief.ForReader(b)
		}
		list[i] = Version{Version: v, Brief: shown, Who: d.personName(v.Person)}
	}
	for i := range list {
		if i+1 == len(list) {
			list[i].Change = []string{"first kept"}
			continue
		}
		now, was := &list[i], &list[i+1]
		now.Change = d.Difference(who, was.Brief.Brief(), now.Brief.Brief())
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
func (d *Desk) Difference(who Person, was, now *brief.Brief) []string {
	a, err := d.Bind(was)
	if err != nil {
		return []string{"from a report that today’s fields no longer allow"}
	}
	b, err := d.Bind(now)
	if err != nil {
		return nil
	}
	return brief.Difference(d.Say(who, a), d.Say(who, b))
}

// BringVersionBack makes a report what it was at a version.
func (d *Desk) BringVersionBack(ctx context.Context, who Person, id int64, version int) (Report, error) {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	rows, err := d.store.Versions(ctx, id)
	if err != nil {
		return Report{}, err
	}
	for _, v := range rows {
		if v.Version != version {
			continue
		}
		b, err := brief.Decode([]byte(v.Brief))
		if err != nil {
			return Report{}, err
		}
		if _, err := d.Bind(b); err != nil {
			return Report{}, err
		}
		r := was.row
		r.Title, r.Description, r.Brief, r.ChangedBy = v.Title, v.Description, v.Brief, who.ID
		return d.changed(ctx, who, r, r.Folder)
	}
	return Report{}, mapStore(store.ErrNotFound, "version")
}

// Draft is work that a person did not keep yet.
type Draft struct {
	store.Draft
	Brief   brief.Public
	Title   string // of the report it is of
	Reading int64  // the report whose fixed conditions hold for it, 0 for none
}

// Drafts lists a person's drafts. Those of reports that the person may no longer open are left out.
func (d *Desk) Drafts(ctx context.Context, who Person) ([]Draft, error) {
	rows, err := d.store.Drafts(ctx, who.ID)
	list := []Draft{}
	for _, r := range rows {
		b, err := brief.Decode([]byte(r.Brief))
		if err != nil {
			continue // of a format that is no longer read
		}
		draft := Draft{Draft: r, Brief: brief.ForOwner(b)}
		if r.Report != nil {
			of, err := d.Report(ctx, who, *r.Report)
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
func (d *Desk) KeepDraft(ctx context.Context, who Person, draft store.Draft, b *brief.Brief) (Draft, error) {
	if !who.MayCompose() {
		return Draft{}, fail(Forbidden, "", "Only composers and administrators keep drafts.")
	}
	out := Draft{Brief: brief.ForOwner(b)}
	if draft.Report != nil {
		of, err := d.Report(ctx, who, *draft.Report)
		if err != nil {
			return Draft{}, err
		}
		out.Title, out.Reading = of.Title, of.Reading()
	}
	text, err := json.Marshal(out.Brief)
	if err != nil {
		return Draft{}, err
	}
	draft.Person, draft.Brief = who.ID, string(text)
	err = d.store.PutDraft(ctx, &draft)
	out.Draft = draft
	if errors.Is(err, store.ErrStale) {
		return out, fail(Stale, "", "This report is being changed in another window, too. What you see here is kept in this window; open the draft to see the other.")
	}
	return out, err
}

// DropDraft throws a draft away.
func (d *Desk) DropDraft(ctx context.Context, who Person, id int64) error {
	return d.store.DropDraft(ctx, who.ID, id)
}

// Dismissed lists the warnings that were dismissed for a report.
func (d *Desk) Dismissed(ctx context.Context, who Person, id int64) ([]string, error) {
	if _, err := d.Report(ctx, who, id); err != nil {
		return nil, err
	}
	return d.store.Dismissed(ctx, id)
}

// Dismiss dismisses a warning for a report, for everyone.
func (d *Desk) Dismiss(ctx context.Context, who Person, id int64, code string) error {
	if _, err := d.changeable(ctx, who, id); err != nil {
		return err
	}
	if code == "" || len(code) > 300 {
		return fail(Invalid, "/code", "Name the warning.")
	}
	return d.store.Dismiss(ctx, id, who.ID, code)
}
