// Package finding finds what people keep: reports, dashboards and folders, by whose they are, where they are, what they
// are about and the words in them; and what was deleted lately, to bring it back.
package finding

import (
	"context"
	"sort"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Finder finds what a library holds.
type Finder struct {
	store *store.Store
	lib   *library.Library
}

// New finds in a library, which is kept in a store.
func New(s *store.Store, lib *library.Library) *Finder { return &Finder{s, lib} }

// Find narrows what was kept. The zero value finds everything that a person may open.
type Find struct {
	Kind      string // report, board, folder; "" for all
	Whose     string // mine, team, a person's id; "" for everyone's
	Favourite bool
	Opened    bool   // opened by the person before, the latest first
	Folder    int64  // 0 for any
	Board     string // a board's id; "none" for reports on no board
	Start     string // a record type
	Changed   string // a word for a period
	For       string // me (the private folder), team (folders that are the team's); "" for any
	Search    string
	Sort      string // title, or opened for the last opened first; "" for the latest change first
	Deleted   bool   // what was deleted lately, and nothing else
}

// Found is a report, board or folder.
type Found struct {
	store.Item
	Title       string
	Description string
	FolderID    int64
	Folder      string
	Private     bool
	Owner       string
	Start       string
	Text        string // the sentence
	Changed     int64
	Opened      int64 // 0 for never
	Favourite   bool
	MayChange   bool
	MayShare    bool // by itself
	Panels      int
	Boards      []library.Use // that a report is on and the person may open
	Deleted     int64
	DeletedBy   string

	owner     int64
	ownerTeam int64
	search    string
}

// Find finds reports, boards and folders, and says in words what it looked for.
func (fs *Finder) Find(ctx context.Context, v *answers.View, f Find) (list []Found, said string, err error) {
	in, err := fs.lib.Reach(ctx, v)
	if err != nil {
		return nil, "", err
	}
	span := period.Span{}
	if f.Changed != "" {
		p := period.Period{Word: f.Changed}
		if err := p.Check(); err != nil {
			return nil, "", fault.New(fault.Invalid, "/changed", "%s", err)
		}
		span = v.Snap.Cal.Resolve(p, v.Day)
	}
	all, err := fs.everything(ctx, v, in, f.Deleted)
	if err != nil {
		return nil, "", err
	}
	list = []Found{}
	words := strings.Fields(column.Fold(f.Search))
	for _, x := range all {
		if x.fits(v, f, in) && x.within(span, v.Snap.Cal) && hasAll(x.search, words) {
			list = append(list, x)
		}
	}
	sort.SliceStable(list, func(i, j int) bool {
		a, b := &list[i], &list[j]
		switch {
		case f.Deleted && a.Deleted != b.Deleted:
			return a.Deleted > b.Deleted
		case (f.Opened || f.Sort == "opened") && a.Opened != b.Opened:
			return a.Opened > b.Opened
		case f.Sort == "title" && a.Title != b.Title:
			return column.Fold(a.Title) < column.Fold(b.Title)
		}
		return a.Changed > b.Changed
	})
	return list, sayFind(v, f, in), nil
}

func hasAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

func (x *Found) within(s period.Span, cal *period.Calendar) bool {
	if !s.HasFrom && !s.HasTo {
		return true
	}
	day := cal.DayOf(x.Changed)
	return (!s.HasFrom || day >= s.From) && (!s.HasTo || day <= s.To)
}

func (x *Found) fits(v *answers.View, f Find, in library.Reach) bool {
	onBoard := f.Board == "none" && len(x.Boards) == 0 && x.Kind == store.KindReport
	for _, b := range x.Boards {
		onBoard = onBoard || (!b.Pages && strconv.FormatInt(b.Board, 10) == f.Board)
	}
	ours := false
	if folder := in.Folders[x.FolderID]; folder != nil {
		for _, a := range folder.Access {
			ours = ours || (a.Kind == store.ForTeam && a.Subject == v.Who.TeamID && v.Who.TeamID != 0)
		}
	}
	switch {
	case f.Kind != "" && f.Kind != x.Kind,
		f.Favourite && !x.Favourite,
		f.Opened && x.Opened == 0,
		f.Folder != 0 && f.Folder != x.FolderID,
		f.Board != "" && !onBoard,
		f.Start != "" && f.Start != x.Start,
		f.For == "me" && !x.Private,
		f.For == "team" && !ours,
		f.Whose == "mine" && x.owner != v.Who.ID,
		f.Whose == "team" && (v.Who.TeamID == 0 || x.ownerTeam != v.Who.TeamID),
		f.Whose != "" && f.Whose != "mine" && f.Whose != "team" && strconv.FormatInt(x.owner, 10) != f.Whose:
		return false
	}
	return true
}

// everything lists all that a person may open, or what was deleted of it.
func (fs *Finder) everything(ctx context.Context, v *answers.View, in library.Reach, deleted bool) ([]Found, error) {
	viewer := v.Who.Viewer()
	reports, boards := fs.lib.Reports, fs.lib.Boards
	if deleted {
		reports, boards = fs.lib.DeletedReports, fs.lib.DeletedBoards
	}
	open, err := reports(ctx, v)
	if err != nil {
		return nil, err
	}
	layouts, err := boards(ctx, v)
	if err != nil {
		return nil, err
	}
	live := layouts
	if deleted { // reports are on those that are left
		if live, err = fs.lib.Boards(ctx, v); err != nil {
			return nil, err
		}
	}
	favourites, err := fs.store.Favourites(ctx, v.Who.ID)
	if err != nil {
		return nil, err
	}
	opened, err := fs.store.Opened(ctx, v.Who.ID)
	if err != nil {
		return nil, err
	}
	on, err := fs.onPages(ctx, v)
	if err != nil {
		return nil, err
	}
	for _, b := range live {
		for _, p := range b.Panels {
			if uses := on[p.Report]; len(uses) == 0 || uses[len(uses)-1].Board != b.ID {
				on[p.Report] = append(uses, library.Use{Board: b.ID, Title: b.Title})
			}
		}
	}
	var list []Found
	add := func(x Found, more string) {
		x.Favourite, x.Opened = favourites[x.Item], opened[x.Item]
		if f := in.Folders[x.FolderID]; f != nil {
			x.Folder, x.Private = f.Name, f.Owner != nil
		}
		x.MayShare = x.Kind != store.KindFolder && library.MayShare(v, x.owner)
		x.ownerTeam = people.TeamOf(v.Snap, x.owner)
		x.search = column.Fold(
			x.Title + "\n" + x.Description + "\n" + x.Text + "\n" + x.Folder + "\n" + x.Owner + "\n" + more,
		)
		list = append(list, x)
	}
	for _, r := range open {
		text, fields := textOf(v, r)
		x := Found{
			Item:        store.Item{Kind: store.KindReport, Item: r.ID},
			Title:       r.Title,
			Description: r.Description,
			FolderID:    r.Folder,
			Owner:       r.OwnerName,
			owner:       r.Owner,
			Start:       r.Start(),
			Text:        text,
			Changed:     r.Changed,
			MayChange:   r.MayChange,
			Boards:      on[r.ID],
		}
		if at, by := r.Gone(); at != 0 {
			x.Deleted, x.DeletedBy = at, people.Name(v.Snap, by)
		}
		add(x, fields)
	}
	for _, b := range layouts {
		x := Found{
			Item:      store.Item{Kind: store.KindBoard, Item: b.ID},
			Title:     b.Title,
			FolderID:  b.Folder,
			Owner:     b.OwnerName,
			owner:     b.Owner,
			Changed:   b.Changed,
			MayChange: b.MayChange,
			Panels:    len(b.Panels),
		}
		if b.Deleted != nil {
			x.Deleted, x.DeletedBy = *b.Deleted, people.Name(v.Snap, *b.DeletedBy)
		}
		add(x, "")
	}
	for id, f := range in.Folders {
		if deleted {
			break
		}
		x := Found{
			Item:      store.Item{Kind: store.KindFolder, Item: id},
			Title:     f.Name,
			MayChange: f.Owner == nil && v.Who.MayCompose() && f.MayManage(viewer),
		}
		if f.Parent != nil {
			x.FolderID = *f.Parent
		}
		if f.Owner != nil {
			x.owner = *f.Owner
		}
		add(x, "")
	}
	return list, nil
}

// onPages says on the pages of which record types reports are.
func (fs *Finder) onPages(ctx context.Context, v *answers.View) (map[int64][]library.Use, error) {
	on := map[int64][]library.Use{}
	list, err := fs.store.AllPagePanels(ctx)
	for _, p := range list {
		if t := v.Snap.Schema.Type(p.RecordType); t != nil {
			on[p.Report] = append(on[p.Report], library.Use{Title: t.Label, Pages: true})
		}
	}
	return on, err
}

// BringBack brings back a report or board that was deleted.
func (fs *Finder) BringBack(ctx context.Context, v *answers.View, i store.Item) error {
	list, _, err := fs.Find(ctx, v, Find{Deleted: true})
	if err != nil {
		return err
	}
	for _, x := range list {
		if x.Item != i {
			continue
		}
		if !x.MayChange {
			return fault.New(fault.Forbidden, "", "This is %s’s.", x.Owner)
		}
		if i.Kind == store.KindReport {
			err = library.ReportError(fs.store.BringReportBack(ctx, i.Item), x.Title)
		} else {
			err = library.BoardError(fs.store.BringBoardBack(ctx, i.Item), x.Title)
		}
		if err != nil {
			return err
		}
		fs.lib.Tell(ctx, i.Kind, i.Item, x.owner, x.FolderID)
		return nil
	}
	return fault.New(fault.NotFound, "", "There is no such thing among what was recently deleted.")
}
