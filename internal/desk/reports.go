package desk

import (
	"context"
	"encoding/json"
	"errors"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// Report is a kept report, open.
type Report struct {
	store.Report
	Brief     *brief.Brief
	Shown     []brief.Column // of the records behind a number; none for the brief's own
	MayChange bool
	OwnerName string
}

func (d *Desk) openReport(who Person, r store.Report, in folders) (Report, error) {
	b, err := brief.Decode([]byte(r.Brief))
	if err != nil {
		return Report{}, err
	}
	out := Report{Report: r, Brief: b, OwnerName: d.personName(r.Owner)}
	if r.OwnerTeam != nil {
		out.OwnerName = d.subjectName(store.Access{Kind: store.ForTeam, Subject: *r.OwnerTeam})
	}
	if r.Shown != "" {
		if err := json.Unmarshal([]byte(r.Shown), &out.Shown); err != nil {
			return Report{}, err
		}
	}
	f := in[r.Folder]
	out.MayChange = r.Owner == who.ID || who.Role == Administrator || (r.OwnerTeam != nil && *r.OwnerTeam == who.TeamID && who.MayCompose()) ||
		(f != nil && who.MayCompose() && f.MayChange(who.viewer()))
	if !out.MayChange {
		out.Brief = brief.HideFixed(b)
	}
	return out, nil
}

// Reports lists the reports that a person may open.
func (d *Desk) Reports(ctx context.Context, who Person) ([]Report, error) {
	rows, err := d.store.Reports(ctx, who.viewer())
	if err != nil {
		return nil, err
	}
	return d.openReports(ctx, who, rows)
}

func (d *Desk) openReports(ctx context.Context, who Person, rows []store.Report) ([]Report, error) {
	in, err := d.folders(ctx, who)
	if err != nil {
		return nil, err
	}
	list := []Report{}
	for _, r := range rows {
		open, err := d.openReport(who, r, in)
		if err != nil {
			return nil, err
		}
		list = append(list, open)
	}
	return list, nil
}

// Report opens a report.
func (d *Desk) Report(ctx context.Context, who Person, id int64) (Report, error) {
	r, err := d.store.Report(ctx, who.viewer(), id)
	if err != nil {
		return Report{}, mapStore(err, "report")
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return Report{}, err
	}
	return d.openReport(who, r, in)
}

// changeable opens a report that is to be changed.
func (d *Desk) changeable(ctx context.Context, who Person, id int64) (Report, error) {
	r, err := d.Report(ctx, who, id)
	if err == nil && !r.MayChange {
		err = fail(Forbidden, "", "This report is %s’s. Keep it as your own to change it.", r.OwnerName)
	}
	return r, err
}

// Keep is what a report is kept as.
type Keep struct {
	Title       string
	Description string
	Folder      int64
	Brief       *brief.Brief
	Version     int // of the report that is being changed
	NoDownload  bool
	Shown       []brief.Column
	ShownFixed  bool
	Team        bool // the owner's team owns it, too
}

func (d *Desk) checkKeep(ctx context.Context, who Person, k *Keep, into bool) error {
	var err error
	hidden := false
	brief.Each(k.Brief, func(t brief.Tree) (brief.Tree, bool) {
		hidden = hidden || t.Hidden
		return t, false
	})
	if hidden {
		return fail(Forbidden, "/brief", "This report has conditions that its owner fixed. Whoever may not see them cannot keep a copy; ask its owner.")
	}
	if k.Title, err = title(k.Title, "/title"); err != nil {
		return err
	}
	if utf8.RuneCountInString(k.Description) > 2000 {
		return fail(Invalid, "/description", "A description has 2,000 characters at most.")
	}
	if into {
		if err := d.checkFolder(ctx, who, k.Folder); err != nil {
			return err
		}
	}
	bound, err := d.Bind(k.Brief)
	if err != nil || len(k.Shown) == 0 {
		return err
	}
	if len(bound.Parts) > 1 {
		return fail(Invalid, "/shown", "A report of several record types has no columns of its own.")
	}
	list := brief.Brief{Version: brief.Version, Part: k.Brief.Part, Columns: k.Shown}
	_, err = d.Bind(&list)
	return err
}

// fill puts what is kept into a report.
func (k *Keep) fill(r *store.Report, who Person) error {
	text, err := json.Marshal(k.Brief)
	if err != nil {
		return err
	}
	r.Folder, r.Title, r.Description, r.Brief, r.ChangedBy = k.Folder, k.Title, k.Description, string(text), who.ID
	r.NoDownload, r.Shown, r.ShownFixed, r.OwnerTeam = k.NoDownload, "", k.ShownFixed, nil
	if k.Team && who.TeamID != 0 {
		r.OwnerTeam = &who.TeamID
	}
	if len(k.Shown) > 0 {
		if text, err = json.Marshal(k.Shown); err != nil {
			return err
		}
		r.Shown = string(text)
	}
	return nil
}

// KeepNew keeps a new report.
func (d *Desk) KeepNew(ctx context.Context, who Person, k Keep) (Report, error) {
	if !who.MayCompose() {
		return Report{}, fail(Forbidden, "", "Only composers and administrators keep reports.")
	}
	if err := d.checkKeep(ctx, who, &k, true); err != nil {
		return Report{}, err
	}
	r := store.Report{Owner: who.ID}
	if err := k.fill(&r, who); err != nil {
		return Report{}, err
	}
	if err := d.store.AddReport(ctx, &r); err != nil {
		return Report{}, d.keepError(err, k.Title)
	}
	d.tell(Event{store.KindReport, r.ID})
	return d.Report(ctx, who, r.ID)
}

func (d *Desk) keepError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/title", "There is a report named “%s” in this folder already. Give this one another name, or another folder.", title)
	}
	return mapStore(err, "report")
}

// KeepChanged keeps a changed report.
func (d *Desk) KeepChanged(ctx context.Context, who Person, id int64, k Keep) (Report, error) {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	if err := d.checkKeep(ctx, who, &k, k.Folder != was.Folder); err != nil {
		return Report{}, err
	}
	r := was.Report
	if err := k.fill(&r, who); err != nil {
		return Report{}, err
	}
	if k.Team && was.OwnerTeam != nil {
		r.OwnerTeam = was.OwnerTeam
	}
	r.Version = k.Version
	return d.changed(ctx, who, &r)
}

func (d *Desk) changed(ctx context.Context, who Person, r *store.Report) (Report, error) {
	if err := d.store.ChangeReport(ctx, r); err != nil {
		return Report{}, d.keepError(err, r.Title)
	}
	d.tell(Event{store.KindReport, r.ID})
	return d.Report(ctx, who, r.ID)
}

// GiveTo makes another person the owner of a report.
func (d *Desk) GiveTo(ctx context.Context, who Person, id, owner int64) (Report, error) {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	if was.Owner != who.ID && who.Role != Administrator {
		return Report{}, fail(Forbidden, "", "Only %s and administrators give this report to someone else.", was.OwnerName)
	}
	if _, err := d.Who(ctx, owner); err != nil {
		return Report{}, fail(Invalid, "/owner", "Choose someone who can sign in.")
	}
	r := was.Report
	r.Owner, r.OwnerTeam, r.ChangedBy = owner, nil, who.ID
	return d.changed(ctx, who, &r)
}

// MoveReport puts a report into another folder.
func (d *Desk) MoveReport(ctx context.Context, who Person, id, folder int64) (Report, error) {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	if err := d.checkFolder(ctx, who, folder); err != nil {
		return Report{}, err
	}
	r := was.Report
	r.Folder, r.ChangedBy = folder, who.ID
	return d.changed(ctx, who, &r)
}

// DeleteReport puts a report among what was recently deleted.
func (d *Desk) DeleteReport(ctx context.Context, who Person, id int64) error {
	if _, err := d.changeable(ctx, who, id); err != nil {
		return err
	}
	if err := d.store.DeleteReport(ctx, id, who.ID); err != nil {
		return err
	}
	d.tell(Event{store.KindReport, id})
	return nil
}

// Use is a board that a report stands on, or the pages of a record type.
type Use struct {
	Board int64 // 0 where the person may not open it
	Title string
	Pages bool
}

// UsedOn lists where a report stands. Boards that the person may not open are counted, not named.
func (d *Desk) UsedOn(ctx context.Context, who Person, id int64) (uses []Use, hidden int, err error) {
	r, err := d.Report(ctx, who, id)
	if err != nil {
		return nil, 0, err
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return nil, 0, err
	}
	rows, err := d.store.BoardsWith(ctx, id)
	if err != nil {
		return nil, 0, err
	}
	for _, b := range rows {
		if in[b.Folder] == nil {
			hidden++
			continue
		}
		uses = append(uses, Use{Board: b.ID, Title: b.Title})
	}
	pages, err := d.PagesOf(ctx, who, r)
	for _, t := range d.Snapshot().Schema.Types {
		if pages[t.Key] {
			uses = append(uses, Use{Title: t.Label, Pages: true})
		}
	}
	return uses, hidden, err
}
