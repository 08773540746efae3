package desk

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

// Report is a kept report, open.
type Report struct {
	store.Report
	Brief     *brief.Brief
	MayChange bool
	OwnerName string
}

// MaxTitle is the longest title in characters.
const MaxTitle = 200

// Folders lists the folders that a person may open.
func (d *Desk) Folders(ctx context.Context, who Person) ([]store.Folder, error) {
	return d.store.Folders(ctx, who.ID)
}

// AddFolder makes a folder for everyone.
func (d *Desk) AddFolder(ctx context.Context, who Person, name string) (store.Folder, error) {
	if !who.MayCompose() {
		return store.Folder{}, fail(Forbidden, "", "Only composers and administrators make folders.")
	}
	name, err := title(name, "/name")
	if err != nil {
		return store.Folder{}, err
	}
	f, err := d.store.AddFolder(ctx, name)
	if errors.Is(err, store.ErrTaken) {
		return f, fail(Taken, "/name", "There is a folder named “%s” already.", name)
	}
	return f, err
}

func title(s, pointer string) (string, error) {
	s = strings.Join(strings.Fields(s), " ")
	switch {
	case s == "":
		return s, fail(Invalid, pointer, "Give it a name.")
	case utf8.RuneCountInString(s) > MaxTitle:
		return s, fail(Invalid, pointer, "A name has %d characters at most.", MaxTitle)
	}
	return s, nil
}

func (d *Desk) openReport(who Person, r store.Report) (Report, error) {
	b, err := brief.Decode([]byte(r.Brief))
	if err != nil {
		return Report{}, err
	}
	return Report{Report: r, Brief: b, MayChange: r.Owner == who.ID || who.Role == Administrator, OwnerName: d.personName(r.Owner)}, nil
}

func (d *Desk) personName(id int64) string {
	snap := d.Snapshot()
	key := snap.Schema.Readers().Key
	t, err := snap.Table(key)
	if err != nil {
		return ""
	}
	return snap.Name(key, t.IDs.Row(Person{ID: id}.id()))
}

// Reports lists the reports that a person may open.
func (d *Desk) Reports(ctx context.Context, who Person) ([]Report, error) {
	rows, err := d.store.Reports(ctx, who.ID)
	if err != nil {
		return nil, err
	}
	list := []Report{}
	for _, r := range rows {
		open, err := d.openReport(who, r)
		if err != nil {
			return nil, err
		}
		list = append(list, open)
	}
	return list, nil
}

// Report opens a report.
func (d *Desk) Report(ctx context.Context, who Person, id int64) (Report, error) {
	r, err := d.store.Report(ctx, who.ID, id)
	if err != nil {
		return Report{}, mapStore(err, "report")
	}
	return d.openReport(who, r)
}

// Keep is what a report is kept as.
type Keep struct {
	Title       string
	Description string
	Folder      int64
	Brief       *brief.Brief
	Version     int // of the report that is being changed
}

func (d *Desk) checkKeep(ctx context.Context, who Person, k *Keep) (string, error) {
	var err error
	if k.Title, err = title(k.Title, "/title"); err != nil {
		return "", err
	}
	if utf8.RuneCountInString(k.Description) > 2000 {
		return "", fail(Invalid, "/description", "A description has 2,000 characters at most.")
	}
	if err := d.checkFolder(ctx, who, k.Folder); err != nil {
		return "", err
	}
	if _, err := d.Bind(k.Brief); err != nil {
		return "", err
	}
	text, err := json.Marshal(k.Brief)
	return string(text), err
}

func (d *Desk) checkFolder(ctx context.Context, who Person, id int64) error {
	folders, err := d.store.Folders(ctx, who.ID)
	if err != nil {
		return err
	}
	for _, f := range folders {
		if f.ID == id {
			return nil
		}
	}
	return fail(Invalid, "/folder", "Choose a folder to keep it in.")
}

// KeepNew keeps a new report.
func (d *Desk) KeepNew(ctx context.Context, who Person, k Keep) (Report, error) {
	if !who.MayCompose() {
		return Report{}, fail(Forbidden, "", "Only composers and administrators keep reports.")
	}
	text, err := d.checkKeep(ctx, who, &k)
	if err != nil {
		return Report{}, err
	}
	r := store.Report{Folder: k.Folder, Owner: who.ID, Title: k.Title, Description: k.Description, Brief: text, ChangedBy: who.ID}
	if err := d.store.AddReport(ctx, &r); err != nil {
		return Report{}, d.keepError(err, k.Title)
	}
	return d.openReport(who, r)
}

func (d *Desk) keepError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/title", "There is a report named “%s” in this folder already. Give this one another name, or another folder.", title)
	}
	return mapStore(err, "report")
}

// KeepChanged keeps a changed report.
func (d *Desk) KeepChanged(ctx context.Context, who Person, id int64, k Keep) (Report, error) {
	was, err := d.Report(ctx, who, id)
	if err != nil {
		return Report{}, err
	}
	if !was.MayChange {
		return Report{}, fail(Forbidden, "", "This report is %s’s. Keep it as your own to change it.", was.OwnerName)
	}
	text, err := d.checkKeep(ctx, who, &k)
	if err != nil {
		return Report{}, err
	}
	r := was.Report
	r.Folder, r.Title, r.Description, r.Brief, r.Version, r.ChangedBy = k.Folder, k.Title, k.Description, text, k.Version, who.ID
	if err := d.store.ChangeReport(ctx, &r); err != nil {
		return Report{}, d.keepError(err, k.Title)
	}
	return d.openReport(who, r)
}

// Board is a dashboard, open.
type Board struct {
	store.Board
	MayChange bool
	OwnerName string
}

func (d *Desk) openBoard(who Person, b store.Board) Board {
	return Board{b, b.Owner == who.ID || who.Role == Administrator, d.personName(b.Owner)}
}

// Boards lists the boards that a person may open.
func (d *Desk) Boards(ctx context.Context, who Person) ([]Board, error) {
	rows, err := d.store.Boards(ctx, who.ID)
	list := []Board{}
	for _, b := range rows {
		list = append(list, d.openBoard(who, b))
	}
	return list, err
}

// Board opens a board.
func (d *Desk) Board(ctx context.Context, who Person, id int64) (Board, error) {
	b, err := d.store.Board(ctx, who.ID, id)
	return d.openBoard(who, b), mapStore(err, "dashboard")
}

// MaxPanels is how many panels a board has at most.
const MaxPanels = 60

func (d *Desk) checkBoard(ctx context.Context, who Person, b *store.Board) error {
	var err error
	if b.Title, err = title(b.Title, "/title"); err != nil {
		return err
	}
	if len(b.Panels) > MaxPanels {
		return fail(Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	for i := range b.Panels {
		p := &b.Panels[i]
		if p.X < 0 || p.Y < 0 || p.W < 1 || p.H < 1 || p.X+p.W > 12 || p.Y > 10000 || p.H > 100 {
			return fail(Invalid, "/panels", "A panel lies outside the dashboard.")
		}
		p.ID = 0
		if _, err := d.store.Report(ctx, who.ID, p.Report); err != nil {
			return mapStore(err, "report")
		}
	}
	return d.checkFolder(ctx, who, b.Folder)
}

// AddBoard makes a board.
func (d *Desk) AddBoard(ctx context.Context, who Person, b store.Board) (Board, error) {
	if !who.MayCompose() {
		return Board{}, fail(Forbidden, "", "Only composers and administrators make dashboards.")
	}
	if err := d.checkBoard(ctx, who, &b); err != nil {
		return Board{}, err
	}
	b.Owner = who.ID
	if err := d.store.AddBoard(ctx, &b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return d.openBoard(who, b), nil
}

func boardError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/title", "There is a dashboard named “%s” in this folder already.", title)
	}
	return mapStore(err, "dashboard")
}

// ChangeBoard keeps a changed board.
func (d *Desk) ChangeBoard(ctx context.Context, who Person, b store.Board) (Board, error) {
	was, err := d.Board(ctx, who, b.ID)
	if err != nil {
		return Board{}, err
	}
	if !was.MayChange {
		return Board{}, fail(Forbidden, "", "This dashboard is %s’s.", was.OwnerName)
	}
	if err := d.checkBoard(ctx, who, &b); err != nil {
		return Board{}, err
	}
	b.Owner = was.Owner
	if err := d.store.ChangeBoard(ctx, &b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return d.openBoard(who, b), nil
}

// PagePanel is a report on a record's page: its brief narrowed to that record.
type PagePanel struct {
	Report Report
	Brief  *brief.Brief
	Words  string // "deals of this customer"
}

// PutOnPage puts a report on the pages of a record type, linked over the path from its records to them.
func (d *Desk) PutOnPage(ctx context.Context, who Person, typ string, report int64) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators lay out record pages.")
	}
	r, err := d.Report(ctx, who, report)
	if err != nil {
		return err
	}
	t := d.Snapshot().Schema.Type(typ)
	if t == nil {
		return fail(NotFound, "", "There is no record type “%s”.", typ)
	}
	link := d.linkTo(r.Brief, typ)
	if link == "" {
		return fail(Invalid, "/report", "“%s” starts from records that have no link to %s.", r.Title, strings.ToLower(t.Label))
	}
	err = d.store.AddPagePanel(ctx, &store.PagePanel{RecordType: typ, Report: report, Link: link})
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/report", "“%s” is on these pages already.", r.Title)
	}
	return err
}

// linkTo is the link by which a report's records belong to a record of a type, or "".
func (d *Desk) linkTo(b *brief.Brief, typ string) string {
	if b.Start == "" {
		return ""
	}
	t := d.Snapshot().Schema.Type(b.Start)
	if t == nil {
		return ""
	}
	for _, f := range t.Fields {
		if f.Kind == schema.Link && f.To == typ && f.Worked == nil && f.Key != "created_by" && f.Key != "changed_by" {
			return f.Key
		}
	}
	return ""
}

// TakeOffPage takes a report off the pages of a record type.
func (d *Desk) TakeOffPage(ctx context.Context, who Person, typ string, report int64) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators lay out record pages.")
	}
	return mapStore(d.store.RemovePagePanel(ctx, typ, report), "report on these pages")
}

// PagesOf lists the record types on whose pages a report could stand, and whether it does.
func (d *Desk) PagesOf(ctx context.Context, who Person, r Report) (map[string]bool, error) {
	on := map[string]bool{}
	for _, t := range d.Snapshot().Schema.Types {
		if d.linkTo(r.Brief, t.Key) == "" {
			continue
		}
		panels, err := d.store.PagePanels(ctx, who.ID, t.Key)
		if err != nil {
			return nil, err
		}
		on[t.Key] = false
		for _, p := range panels {
			on[t.Key] = on[t.Key] || p.Report == r.ID
		}
	}
	return on, nil
}

// Record is one record, open.
type Record struct {
	Type   *schema.Type
	ID     string
	Name   string
	Fields []RecordField
	Panels []PagePanel
}

// RecordField is one field of an open record: its value for people, and the record that it links to.
type RecordField struct {
	Field *schema.Field
	Text  string
	To    string // id
}

// Record opens a record with the reports that stand on its page.
func (d *Desk) Record(ctx context.Context, who Person, typ, id string) (Record, error) {
	snap := d.Snapshot()
	t := snap.Schema.Type(typ)
	missing := fail(NotFound, "", "There is no such record.")
	if t == nil {
		return Record{}, missing
	}
	table, err := snap.Table(typ)
	if err != nil {
		return Record{}, err
	}
	row := table.IDs.Row(id)
	if row < 0 {
		return Record{}, missing
	}
	rec := Record{Type: t, ID: id, Name: snap.Name(typ, row)}
	w := d.Writer()
	for i := range t.Fields {
		f := &t.Fields[i]
		if column.TodayDependent(f) {
			continue
		}
		c, err := snap.Column(typ, f.Key)
		if err != nil {
			return Record{}, err
		}
		v := c.At(row)
		field := RecordField{Field: f, Text: w.Inner(f.Kind, snap.Text(c, v, table), nil)}
		if f.Kind == schema.Link && v != column.Null {
			field.To, field.Text = field.Text, snap.Name(f.To, int32(v))
		}
		rec.Fields = append(rec.Fields, field)
	}
	rec.Panels, err = d.pagePanels(ctx, who, t, id)
	return rec, err
}

func (d *Desk) pagePanels(ctx context.Context, who Person, t *schema.Type, id string) ([]PagePanel, error) {
	rows, err := d.store.PagePanels(ctx, who.ID, t.Key)
	if err != nil {
		return nil, err
	}
	var list []PagePanel
	for _, p := range rows {
		r, err := d.Report(ctx, who, p.Report)
		if err != nil {
			return nil, err
		}
		start := d.Snapshot().Schema.Type(r.Brief.Start)
		if start == nil || start.Field(p.Link) == nil {
			continue // the report was changed and no longer leads here
		}
		narrowed := *r.Brief
		only := brief.Tree{Field: p.Link, Is: "any_of", Values: []string{id}}
		filter := brief.Tree{All: []brief.Tree{only}}
		switch own := r.Brief.Filter; {
		case own == nil:
		case own.All != nil:
			filter.All = append(filter.All, own.All...)
		default:
			filter.All = append(filter.All, *own)
		}
		narrowed.Filter = &filter
		list = append(list, PagePanel{r, &narrowed, strings.ToLower(start.Label) + " of this " + t.One})
	}
	return list, nil
}

// Export is a table to be written to a file.
func (d *Desk) Export(ctx context.Context, who Person, b *brief.Brief, view string) (engine.Lines, error) {
	switch view {
	case "records":
		l, err := d.List(ctx, who, b)
		if err != nil {
			return engine.Lines{}, err
		}
		return l.Lines(), nil
	case "summary", "totals":
		a, err := d.Ask(ctx, who, b)
		if err != nil {
			return engine.Lines{}, err
		}
		if view == "totals" {
			return a.Result.Totals(), nil
		}
		return a.Result.Summary(), nil
	}
	return engine.Lines{}, fail(Invalid, "/view", "a view is records, summary or totals, not %q", view)
}
