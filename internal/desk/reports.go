package desk

import (
	"context"
	"encoding/json"
	"errors"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// Report is a kept report, open: what the person who opened it may see of it.
type Report struct {
	ID          int64
	Folder      int64
	Owner       int64
	OwnerName   string // or its team's
	Team        bool   // whether it is a team's
	Title       string
	Description string
	Version     int
	Changed     int64
	NoDownload  bool
	Brief       brief.Public
	// Fixed says that its owner fixed conditions that are not in Brief; what is asked of it holds to them.
	Fixed      bool
	Shown      []brief.Column // of the records behind a number; none for the brief's own
	ShownFixed bool           // readers may not choose others
	MayChange  bool

	row   store.Report
	whole *brief.Brief
}

// Reading is the report that a reading of it names, so that the conditions that its owner fixed hold; 0 where there are none.
func (r *Report) Reading() int64 {
	if r.Fixed {
		return r.ID
	}
	return 0
}

func (d *Desk) openReport(who Person, row store.Report, in folders) (Report, error) {
	b, err := brief.Decode([]byte(row.Brief))
	if err != nil {
		return Report{}, err
	}
	r := Report{ID: row.ID, Folder: row.Folder, Owner: row.Owner, OwnerName: d.personName(row.Owner), Team: row.OwnerTeam != nil, Title: row.Title, Description: row.Description,
		Version: row.Version, Changed: row.Changed, NoDownload: row.NoDownload, ShownFixed: row.ShownFixed, row: row, whole: b}
	if row.OwnerTeam != nil {
		r.OwnerName = d.subjectName(store.Access{Kind: store.ForTeam, Subject: *row.OwnerTeam})
	}
	if row.Shown != "" {
		if err := json.Unmarshal([]byte(row.Shown), &r.Shown); err != nil {
			return Report{}, err
		}
	}
	f := in[row.Folder]
	r.MayChange = who.MayCompose() && (row.Owner == who.ID || who.Role == Administrator || (row.OwnerTeam != nil && *row.OwnerTeam == who.TeamID) ||
		(f != nil && f.MayChange(who.viewer())))
	if r.MayChange {
		r.Brief = brief.ForOwner(b)
	} else {
		r.Brief, r.Fixed = brief.ForReader(b), brief.HasFixed(b)
	}
	return r, nil
}

// Reading puts a reading of a report together: what the person asks, with the conditions that the report's owner fixed.
// report is 0 where what is asked is a question of its own.
func (d *Desk) Reading(ctx context.Context, who Person, report int64, b *brief.Brief) (*brief.Brief, error) {
	if report == 0 {
		return b, nil
	}
	r, err := d.Report(ctx, who, report)
	if err != nil || !r.Fixed {
		return b, err
	}
	return brief.Compose(b, r.whole)
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
	Team        bool  // the owner's team owns it, too
	From        int64 // the report that it is a reading or a copy of, 0 for none
}

func (d *Desk) checkKeep(ctx context.Context, who Person, k *Keep, owner int64, into bool) error {
	if k.From != 0 {
		from, err := d.Report(ctx, who, k.From)
		if err != nil {
			return err
		}
		if from.Fixed {
			return fail(Forbidden, "/brief", "This report has conditions that its owner fixed. Whoever may not see them cannot keep a copy; ask its owner.")
		}
	}
	var err error
	if k.Title, err = title(k.Title, "/title"); err != nil {
		return err
	}
	if utf8.RuneCountInString(k.Description) > 2000 {
		return fail(Invalid, "/description", "A description has 2,000 characters at most.")
	}
	if into {
		if err := d.checkFolder(ctx, who, k.Folder, owner); err != nil {
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
	if err := d.checkKeep(ctx, who, &k, who.ID, true); err != nil {
		return Report{}, err
	}
	r := store.Report{Owner: who.ID}
	if err := k.fill(&r, who); err != nil {
		return Report{}, err
	}
	if err := d.store.AddReport(ctx, &r); err != nil {
		return Report{}, d.keepError(err, k.Title)
	}
	return d.kept(ctx, who, r.ID, r.Folder)
}

// kept tells whoever it concerns that a report is kept, and opens it. What is kept is kept, even if whoever kept it has
// gone meanwhile. before is the folder that it lay in.
func (d *Desk) kept(ctx context.Context, who Person, id, before int64) (Report, error) {
	ctx = context.WithoutCancel(ctx)
	r, err := d.Report(ctx, who, id)
	if err == nil {
		d.tellOf(ctx, store.KindReport, id, r.Owner, before, r.Folder)
	}
	return r, err
}

// tellOf tells those who may open one of some folders, and an owner, of something that lies in them: also where whoever
// changed it has gone meanwhile.
func (d *Desk) tellOf(ctx context.Context, kind string, id, owner int64, in ...int64) {
	ctx = context.WithoutCancel(ctx)
	e := Event{Kind: kind, ID: id, owners: []int64{owner}}
	list, err := d.store.FoldersByID(ctx, in)
	if err != nil {
		d.log.ErrorContext(ctx, "whom to tell", "error", err)
	}
	for i := range list {
		e.in = append(e.in, &list[i])
	}
	d.after(ctx, func() { d.tell(e) })
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
	if err := d.checkKeep(ctx, who, &k, was.Owner, k.Folder != was.Folder); err != nil {
		return Report{}, err
	}
	r := was.row
	if err := k.fill(&r, who); err != nil {
		return Report{}, err
	}
	if k.Team && was.Team {
		r.OwnerTeam = was.row.OwnerTeam
	}
	r.Version = k.Version
	return d.changed(ctx, who, r, was.Folder)
}

// changed keeps a changed report; before is the folder that it lay in.
func (d *Desk) changed(ctx context.Context, who Person, r store.Report, before int64) (Report, error) {
	if err := d.store.ChangeReport(ctx, &r); err != nil {
		return Report{}, d.keepError(err, r.Title)
	}
	return d.kept(ctx, who, r.ID, before)
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
	r := was.row
	r.Owner, r.OwnerTeam, r.ChangedBy = owner, nil, who.ID
	if r.Folder, err = d.movesAlong(ctx, r.Folder, owner); err != nil {
		return Report{}, err
	}
	return d.changed(ctx, who, r, was.Folder)
}

// MoveReport puts a report into another folder.
func (d *Desk) MoveReport(ctx context.Context, who Person, id, folder int64) (Report, error) {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	if err := d.checkFolder(ctx, who, folder, was.Owner); err != nil {
		return Report{}, err
	}
	r := was.row
	r.Folder, r.ChangedBy = folder, who.ID
	return d.changed(ctx, who, r, was.Folder)
}

// DeleteReport puts a report among what was recently deleted.
func (d *Desk) DeleteReport(ctx context.Context, who Person, id int64) error {
	was, err := d.changeable(ctx, who, id)
	if err != nil {
		return err
	}
	if err := d.store.DeleteReport(ctx, id, who.ID); err != nil {
		return err
	}
	d.tellOf(ctx, store.KindReport, id, was.Owner, was.Folder)
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
