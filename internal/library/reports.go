package library

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/people"
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

// Reading is the report that a reading of it names, so that the conditions that its owner fixed hold; 0 where there are
// none.
func (r *Report) Reading() int64 {
	if r.Fixed {
		return r.ID
	}
	return 0
}

func openReport(v *answers.View, row store.Report, in Reach) (Report, error) {
	b, err := brief.Decode([]byte(row.Brief))
	if err != nil {
		return Report{}, err
	}
	r := Report{
		ID:          row.ID,
		Folder:      row.Folder,
		Owner:       row.Owner,
		OwnerName:   people.Name(v.Snap, row.Owner),
		Team:        row.OwnerTeam != nil,
		Title:       row.Title,
		Description: row.Description,
		Version:     row.Version,
		Changed:     row.Changed,
		NoDownload:  row.NoDownload,
		ShownFixed:  row.ShownFixed,
		row:         row,
		whole:       b,
	}
	if row.OwnerTeam != nil {
		r.OwnerName = people.SubjectName(v.Snap, store.Access{Kind: store.ForTeam, Subject: *row.OwnerTeam})
	}
	if row.Shown != "" {
		if err := json.Unmarshal([]byte(row.Shown), &r.Shown); err != nil {
			return Report{}, err
		}
	}
	r.MayChange = in.mayChange(v, store.Item{Kind: store.KindReport, Item: row.ID}, row.Owner, row.Folder) ||
		(v.Who.MayCompose() && row.OwnerTeam != nil && *row.OwnerTeam == v.Who.TeamID)
	if r.MayChange {
		r.Brief = brief.ForOwner(b)
	} else {
		r.Brief, r.Fixed = brief.ForReader(b), brief.HasFixed(b)
	}
	return r, nil
}

// Reading puts a reading of a report together: what the person asks, with the conditions that the report's owner fixed.
// report is 0 where what is asked is a question of its own.
func (lib *Library) Reading(ctx context.Context, v *answers.View, report int64, b *brief.Brief) (*brief.Brief, error) {
	if report == 0 {
		return b, nil
	}
	r, err := lib.Report(ctx, v, report)
	if err != nil {
		return nil, err
	}
	return r.Asked(b)
}

// Asked is what a person asks of the report, with the conditions that its owner fixed besides.
func (r *Report) Asked(b *brief.Brief) (*brief.Brief, error) {
	if !r.Fixed {
		return b, nil
	}
	return brief.Compose(b, r.whole)
}

// Holds says whether the report's brief is kept as a text.
func (r *Report) Holds(text string) bool { return r.row.Brief == text }

// Start is the record type that the report is about.
func (r *Report) Start() string { return r.whole.Start }

// Gone says when the report was deleted, in seconds since 1970, and by whom; 0 where it was not.
func (r *Report) Gone() (at, by int64) {
	if r.row.Deleted == nil {
		return 0, 0
	}
	return *r.row.Deleted, *r.row.DeletedBy
}

// DeletedReports lists the reports that a person could open until they were deleted lately.
func (lib *Library) DeletedReports(ctx context.Context, v *answers.View) ([]Report, error) {
	rows, err := lib.store.DeletedReports(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	return lib.openReports(ctx, v, rows)
}

// Reports lists the reports that a person may open.
func (lib *Library) Reports(ctx context.Context, v *answers.View) ([]Report, error) {
	rows, err := lib.store.Reports(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	return lib.openReports(ctx, v, rows)
}

// ReportsOf lists those of some reports that a person may open, by title.
func (lib *Library) ReportsOf(ctx context.Context, v *answers.View, ids []int64) ([]Report, error) {
	rows, err := lib.store.ReportsOf(ctx, v.Who.Viewer(), ids)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(rows, func(a, b store.Report) int { return strings.Compare(a.Folded, b.Folded) })
	return lib.openReports(ctx, v, rows)
}

func (lib *Library) openReports(ctx context.Context, v *answers.View, rows []store.Report) ([]Report, error) {
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return nil, err
	}
	list := []Report{}
	for _, r := range rows {
		open, err := openReport(v, r, in)
		if err != nil {
			return nil, err
		}
		list = append(list, open)
	}
	return list, nil
}

// Report opens a report.
func (lib *Library) Report(ctx context.Context, v *answers.View, id int64) (Report, error) {
	r, err := lib.store.Report(ctx, v.Who.Viewer(), id)
	if err != nil {
		return Report{}, fault.FromStore(err, "report")
	}
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return Report{}, err
	}
	return openReport(v, r, in)
}

// changeable opens a report that is to be changed.
func (lib *Library) changeable(ctx context.Context, v *answers.View, id int64) (Report, error) {
	r, err := lib.Report(ctx, v, id)
	if err == nil && !r.MayChange {
		err = fault.New(fault.Forbidden, "", "This report is %s’s. Keep it as your own to change it.", r.OwnerName)
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

func (lib *Library) checkKeep(ctx context.Context, v *answers.View, k *Keep, owner int64, into bool) error {
	if k.From != 0 {
		from, err := lib.Report(ctx, v, k.From)
		if err != nil {
			return err
		}
		if from.Fixed {
			return fault.New(
				fault.Forbidden,
				"/brief",
				"This report has conditions that its owner fixed. Whoever may not see them cannot keep a copy; ask its owner.",
			)
		}
	}
	var err error
	if k.Title, err = naming.Title(k.Title, "/title"); err != nil {
		return err
	}
	if utf8.RuneCountInString(k.Description) > 2000 {
		return fault.New(fault.Invalid, "/description", "A description has 2,000 characters at most.")
	}
	if into {
		if err := lib.CheckFolder(ctx, v, k.Folder, owner); err != nil {
			return err
		}
	}
	bound, err := v.Bind(k.Brief)
	if err != nil || len(k.Shown) == 0 {
		return err
	}
	if len(bound.Parts) > 1 {
		return fault.New(fault.Invalid, "/shown", "A report of several record types has no columns of its own.")
	}
	list := brief.Brief{Version: brief.Version, Part: k.Brief.Part, Columns: k.Shown}
	_, err = v.Bind(&list)
	return err
}

// fill puts what is kept into a report.
func (k *Keep) fill(r *store.Report, v *answers.View) error {
	text, err := json.Marshal(k.Brief)
	if err != nil {
		return err
	}
	r.Folder, r.Title, r.Description, r.Brief, r.ChangedBy = k.Folder, k.Title, k.Description, string(text), v.Who.ID
	r.NoDownload, r.Shown, r.ShownFixed, r.OwnerTeam = k.NoDownload, "", k.ShownFixed, nil
	if k.Team && v.Who.TeamID != 0 {
		r.OwnerTeam = &v.Who.TeamID
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
func (lib *Library) KeepNew(ctx context.Context, v *answers.View, k Keep) (Report, error) {
	if !v.MayKeep() {
		return Report{}, fault.New(fault.Forbidden, "", "Only composers and administrators keep reports.")
	}
	if err := lib.checkKeep(ctx, v, &k, v.Who.ID, true); err != nil {
		return Report{}, err
	}
	r := store.Report{Owner: v.Who.ID}
	if err := k.fill(&r, v); err != nil {
		return Report{}, err
	}
	if err := lib.store.AddReport(ctx, &r); err != nil {
		return Report{}, ReportError(err, k.Title)
	}
	return lib.kept(ctx, v, r.ID, r.Folder)
}

// kept tells whoever it concerns that a report is kept, and opens it. What is kept is kept, even if whoever kept it has
// gone meanwhile. before is the folder that it lay in.
func (lib *Library) kept(ctx context.Context, v *answers.View, id, before int64) (Report, error) {
	ctx = context.WithoutCancel(ctx)
	r, err := lib.Report(ctx, v, id)
	if err == nil {
		lib.Tell(ctx, store.KindReport, id, r.Owner, before, r.Folder)
	}
	return r, err
}

// ReportError says in words what the store refused of a report.
func ReportError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fault.New(
			fault.Taken,
			"/title",
			"There is a report named “%s” in this folder already. Give this one another name, or another folder.",
			title,
		)
	}
	return fault.FromStore(err, "report")
}

// KeepChanged keeps a changed report.
func (lib *Library) KeepChanged(ctx context.Context, v *answers.View, id int64, k Keep) (Report, error) {
	was, err := lib.changeable(ctx, v, id)
	if err != nil {
		return Report{}, err
	}
	if err := lib.checkKeep(ctx, v, &k, was.Owner, k.Folder != was.Folder); err != nil {
		return Report{}, err
	}
	r := was.row
	if err := k.fill(&r, v); err != nil {
		return Report{}, err
	}
	if k.Team && was.Team {
		r.OwnerTeam = was.row.OwnerTeam
	}
	r.Version = k.Version
	return lib.changed(ctx, v, r, was.Folder)
}

// changed keeps a changed report; before is the folder that it lay in.
func (lib *Library) changed(ctx context.Context, v *answers.View, r store.Report, before int64) (Report, error) {
	if err := lib.store.ChangeReport(ctx, &r); err != nil {
		return Report{}, ReportError(err, r.Title)
	}
	return lib.kept(ctx, v, r.ID, before)
}

// GiveTo makes another person the owner of a report.
func (lib *Library) GiveTo(ctx context.Context, v *answers.View, id, owner int64) (Report, error) {
	was, err := lib.changeable(ctx, v, id)
	if err != nil {
		return Report{}, err
	}
	if was.Owner != v.Who.ID && v.Who.Role != people.Administrator {
		return Report{}, fault.New(
			fault.Forbidden,
			"",
			"Only %s and administrators give this report to someone else.",
			was.OwnerName,
		)
	}
	if _, err := lib.people.Who(ctx, owner); err != nil {
		return Report{}, fault.New(fault.Invalid, "/owner", "Choose someone who can sign in.")
	}
	r := was.row
	r.Owner, r.OwnerTeam, r.ChangedBy = owner, nil, v.Who.ID
	if r.Folder, err = lib.MovesAlong(ctx, r.Folder, owner); err != nil {
		return Report{}, err
	}
	return lib.changed(ctx, v, r, was.Folder)
}

// MoveReport puts a report into another folder.
func (lib *Library) MoveReport(ctx context.Context, v *answers.View, id, folder int64) (Report, error) {
	was, err := lib.changeable(ctx, v, id)
	if err != nil {
		return Report{}, err
	}
	if err := lib.CheckFolder(ctx, v, folder, was.Owner); err != nil {
		return Report{}, err
	}
	r := was.row
	r.Folder, r.ChangedBy = folder, v.Who.ID
	return lib.changed(ctx, v, r, was.Folder)
}

// DeleteReport puts a report among what was recently deleted.
func (lib *Library) DeleteReport(ctx context.Context, v *answers.View, id int64) error {
	was, err := lib.changeable(ctx, v, id)
	if err != nil {
		return err
	}
	if err := lib.store.DeleteReport(ctx, id, v.Who.ID); err != nil {
		return err
	}
	lib.Tell(ctx, store.KindReport, id, was.Owner, was.Folder)
	return nil
}

// Use is a board that a report is on, or the pages of a record type.
type Use struct {
	Board int64 // 0 where the person may not open it
	Title string
	Pages bool
}

// UsedOn lists where a report is. Boards that the person may not open are counted, not named.
func (lib *Library) UsedOn(ctx context.Context, v *answers.View, id int64) (uses []Use, hidden int, err error) {
	r, err := lib.Report(ctx, v, id)
	if err != nil {
		return nil, 0, err
	}
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return nil, 0, err
	}
	rows, err := lib.store.BoardsWith(ctx, id)
	if err != nil {
		return nil, 0, err
	}
	for _, b := range rows {
		if !in.opens(v, store.Item{Kind: store.KindBoard, Item: b.ID}, b.Owner, b.Folder) {
			hidden++
			continue
		}
		uses = append(uses, Use{Board: b.ID, Title: b.Title})
	}
	pages, err := lib.PagesOf(ctx, v, r)
	for _, t := range v.Snap.Schema.Types {
		if pages[t.Key] {
			uses = append(uses, Use{Title: t.Label, Pages: true})
		}
	}
	return uses, hidden, err
}
