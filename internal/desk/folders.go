package desk

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"uzzel/internal/store"
)

// MaxTitle is the longest title in characters.
const MaxTitle = 200

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

// folders are those that a person may open, by id.
type folders map[int64]*store.Folder

func (d *Desk) folders(ctx context.Context, who Person) (folders, error) {
	list, err := d.store.Folders(ctx, who.viewer())
	in := folders{}
	for i := range list {
		in[list[i].ID] = &list[i]
	}
	return in, err
}

// Folder is a folder that a person may open.
type Folder struct {
	store.Folder
	MayChange bool // whether the person may change what lies in it
	MayManage bool // whether the person may change its name and access
	Version   int  // of its name and access
}

// Folders lists the folders that a person may open.
func (d *Desk) Folders(ctx context.Context, who Person) ([]Folder, error) {
	rows, err := d.store.Folders(ctx, who.viewer())
	if err != nil {
		return nil, err
	}
	versions, err := d.store.SettingVersions(ctx, store.SettingFolder)
	list := []Folder{}
	for _, f := range rows {
		list = append(list, Folder{f, f.MayChange(who.viewer()) && (who.MayCompose() || f.Owner != nil), who.MayCompose() && f.MayManage(who.viewer()), versions[Person{ID: f.ID}.id()]})
	}
	return list, err
}

// KeepFolder makes a shared folder (ID 0), or changes the name and access of one, which its keeper and administrators may:
// whoever may change what lies in a folder cannot close it to others.
func (d *Desk) KeepFolder(ctx context.Context, who Person, f store.Folder, version int) (store.Folder, error) {
	if !who.MayCompose() {
		return f, fail(Forbidden, "", "Only composers and administrators make folders.")
	}
	var err error
	if f.Name, err = title(f.Name, "/name"); err != nil {
		return f, err
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return f, err
	}
	if f.Parent != nil {
		up := in[*f.Parent]
		switch {
		case up == nil || up.Owner != nil:
			return f, fail(Invalid, "/parent", "Choose a shared folder for it to stand in.")
		case up.Parent != nil:
			return f, fail(Invalid, "/parent", "Folders stand in folders once, not deeper.")
		case !up.MayChange(who.viewer()):
			return f, fail(Forbidden, "", "You may not change what lies in “%s”.", up.Name)
		}
	}
	for i, a := range f.Access {
		switch a.Kind {
		case store.ForEveryone:
			f.Access[i].Subject = 0
		case store.ForTeam, store.ForPerson:
			if d.subjectName(a) == "" {
				return f, fail(Invalid, "/access", "There is no such team or person.")
			}
		default:
			return f, fail(Invalid, "/access", "Access is for everyone, a team or a person.")
		}
	}
	if f.ID == 0 {
		f.Keeper = &who.ID
		err = d.store.AddFolder(ctx, &f)
	} else {
		was := in[f.ID]
		switch {
		case was == nil || was.Owner != nil:
			return f, mapStore(store.ErrNotFound, "folder")
		case !was.MayManage(who.viewer()):
			return f, fail(Forbidden, "", "Only %s say who may open “%s”, and what it is called.", d.keepers(was), was.Name)
		}
		f.Parent, f.Keeper = was.Parent, was.Keeper
		err = d.store.ChangeFolder(ctx, &f, version)
	}
	if errors.Is(err, store.ErrTaken) {
		return f, fail(Taken, "/name", "There is a folder named “%s” there already.", f.Name)
	}
	if err != nil {
		return f, mapStore(err, "folder")
	}
	d.tell(Event{Kind: store.KindFolder, ID: f.ID})
	return f, nil
}

// keepers are those who manage a folder, in words.
func (d *Desk) keepers(f *store.Folder) string {
	if f.Keeper == nil {
		return "administrators"
	}
	return d.personName(*f.Keeper) + " and administrators"
}

// RemoveFolder takes away a shared folder in which nothing lies.
func (d *Desk) RemoveFolder(ctx context.Context, who Person, id int64) error {
	in, err := d.folders(ctx, who)
	if err != nil {
		return err
	}
	f := in[id]
	switch {
	case f == nil || f.Owner != nil:
		return mapStore(store.ErrNotFound, "folder")
	case !who.MayCompose() || !f.MayManage(who.viewer()):
		return fail(Forbidden, "", "Only %s take “%s” away.", d.keepers(f), f.Name)
	}
	if err = d.store.RemoveFolder(ctx, id); errors.Is(err, store.ErrTaken) {
		return fail(Taken, "", "Something lies in “%s”, or in what was recently deleted from it. Move it first.", f.Name)
	}
	if err == nil {
		d.tell(Event{Kind: store.KindFolder, ID: id})
	}
	return err
}

// subjectName is the name of whom an access is for; "" where there is nobody.
func (d *Desk) subjectName(a store.Access) string {
	readers := d.Snapshot().Schema.Readers()
	switch a.Kind {
	case store.ForPerson:
		return d.personName(a.Subject)
	case store.ForTeam:
		if f := readers.Field(readers.Team); f != nil {
			return d.Snapshot().NameOf(f.To, Person{ID: a.Subject}.id(), nil)
		}
	}
	return ""
}

// checkFolder says whether a person may put something of an owner's into a folder. Into a private folder only its owner
// puts things, and only what is the owner's: nobody takes others' work away so.
func (d *Desk) checkFolder(ctx context.Context, who Person, id, owner int64) error {
	in, err := d.folders(ctx, who)
	if err != nil {
		return err
	}
	f := in[id]
	switch {
	case f == nil:
		return fail(Invalid, "/folder", "Choose a folder to keep it in.")
	case !f.MayChange(who.viewer()):
		return fail(Forbidden, "/folder", "You may open “%s”, but not put anything into it.", f.Name)
	case f.Owner != nil && *f.Owner != owner:
		return fail(Forbidden, "/folder", "This is %s’s: it stays where its readers find it. Keep a copy in your private folder instead.", d.personName(owner))
	}
	return nil
}

// movesAlong is the folder of something that is given to someone: out of a private folder it goes into theirs.
func (d *Desk) movesAlong(ctx context.Context, folder, to int64) (int64, error) {
	list, err := d.store.FoldersByID(ctx, []int64{folder})
	if err != nil || len(list) == 0 || list[0].Owner == nil || *list[0].Owner == to {
		return folder, err
	}
	return d.store.PrivateFolder(ctx, to)
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

// Subject is someone whom things can be shared with: a team, or a person who can sign in.
type Subject struct {
	Kind string
	ID   int64
	Name string
}

// Subjects lists the teams, then the people who can sign in, each by name.
func (d *Desk) Subjects(ctx context.Context) ([]Subject, error) {
	snap := d.Snapshot()
	readers := snap.Schema.Readers()
	var list []Subject
	if f := readers.Field(readers.Team); f != nil {
		t, err := snap.Table(f.To)
		if err != nil {
			return nil, err
		}
		for row := range int32(t.N) {
			if id, err := strconv.ParseInt(t.IDs.At(row), 10, 64); err == nil {
				list = append(list, Subject{store.ForTeam, id, snap.Name(f.To, row)})
			}
		}
	}
	accounts, err := d.store.Accounts(ctx)
	for _, a := range accounts {
		list = append(list, Subject{store.ForPerson, a.Person, d.personName(a.Person)})
	}
	slices.SortStableFunc(list, func(a, b Subject) int {
		if a.Kind != b.Kind {
			return strings.Compare(b.Kind, a.Kind)
		}
		return strings.Compare(a.Name, b.Name)
	})
	return list, err
}
