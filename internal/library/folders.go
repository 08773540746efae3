package library

import (
	"context"
	"errors"
	"strconv"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Reach is what a person may open: folders by id, and what is shared with the person by itself, with whether it may be
// changed.
type Reach struct {
	Folders map[int64]*store.Folder
	shared  map[store.Item]bool
}

// opens says whether a person reaches something of an owner's that lies in a folder.
func (r Reach) opens(v *answers.View, i store.Item, owner, folder int64) bool {
	_, shared := r.shared[i]
	return shared || owner == v.Who.ID || r.Folders[folder] != nil
}

// mayChange says whether a person may change something of an owner's that lies in a folder.
func (r Reach) mayChange(v *answers.View, i store.Item, owner, folder int64) bool {
	if owner == v.Who.ID {
		return v.MayKeep()
	}
	f := r.Folders[folder] // none where the person may not open it
	return v.Who.MayCompose() && (v.Who.Administers() || r.shared[i] || (f != nil && f.MayChange(v.Who.Viewer())))
}

// Reach is what the person of a view may open.
func (lib *Library) Reach(ctx context.Context, v *answers.View) (in Reach, err error) {
	list, err := lib.store.Folders(ctx, v.Who.Viewer())
	if err != nil {
		return in, err
	}
	in.Folders = map[int64]*store.Folder{}
	for i := range list {
		in.Folders[list[i].ID] = &list[i]
	}
	in.shared, err = lib.store.SharedWith(ctx, v.Who.Viewer())
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
func (lib *Library) Folders(ctx context.Context, v *answers.View) ([]Folder, error) {
	rows, err := lib.store.Folders(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	versions, err := lib.store.SettingVersions(ctx, store.SettingFolder)
	list := []Folder{}
	for _, f := range rows {
		list = append(
			list,
			Folder{
				f,
				f.MayChange(v.Who.Viewer()) && (v.Who.MayCompose() || f.Owner != nil),
				v.Who.MayCompose() && f.MayManage(v.Who.Viewer()),
				versions[strconv.FormatInt(f.ID, 10)],
			},
		)
	}
	return list, err
}

// KeepFolder makes a shared folder (ID 0), or changes the name and access of one, which its keeper and administrators
// may: whoever may change what lies in a folder cannot close it to others.
func (lib *Library) KeepFolder(
	ctx context.Context,
	v *answers.View,
	f store.Folder,
	version int,
) (store.Folder, error) {
	if !v.Who.MayCompose() {
		return f, fault.New(fault.Forbidden, "", "Only composers and administrators make folders.")
	}
	var err error
	if f.Name, err = naming.Title(f.Name, "/name"); err != nil {
		return f, err
	}
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return f, err
	}
	if f.Parent != nil {
		up := in.Folders[*f.Parent]
		switch {
		case up == nil || up.Owner != nil:
			return f, fault.New(fault.Invalid, "/parent", "Choose a shared folder for it to stand in.")
		case up.Parent != nil:
			return f, fault.New(fault.Invalid, "/parent", "Folders stand in folders once, not deeper.")
		case !up.MayChange(v.Who.Viewer()):
			return f, fault.New(fault.Forbidden, "", "You may not change what lies in “%s”.", up.Name)
		}
	}
	if f.Access, err = checkAccess(v, f.Access); err != nil {
		return f, err
	}
	if f.ID == 0 {
		f.Keeper = &v.Who.ID
		err = lib.store.AddFolder(ctx, &f)
	} else {
		was := in.Folders[f.ID]
		switch {
		case was == nil || was.Owner != nil:
			return f, fault.FromStore(store.ErrNotFound, "folder")
		case !was.MayManage(v.Who.Viewer()):
			return f, fault.New(
				fault.Forbidden,
				"",
				"Only %s say who may open “%s”, and what it is called.",
				keepers(v, was),
				was.Name,
			)
		}
		f.Parent, f.Keeper = was.Parent, was.Keeper
		err = lib.store.ChangeFolder(ctx, &f, version)
	}
	if errors.Is(err, store.ErrTaken) {
		return f, fault.New(fault.Taken, "/name", "There is a folder named “%s” there already.", f.Name)
	}
	if err != nil {
		return f, fault.FromStore(err, "folder")
	}
	lib.feed.Tell(feed.Event{Kind: store.KindFolder, ID: f.ID})
	return f, nil
}

// keepers are those who manage a folder, in words.
func keepers(v *answers.View, f *store.Folder) string {
	if f.Keeper == nil {
		return "administrators"
	}
	return people.Name(v.Snap, *f.Keeper) + " and administrators"
}

// RemoveFolder takes away a shared folder in which nothing lies.
func (lib *Library) RemoveFolder(ctx context.Context, v *answers.View, id int64) error {
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return err
	}
	f := in.Folders[id]
	switch {
	case f == nil || f.Owner != nil:
		return fault.FromStore(store.ErrNotFound, "folder")
	case !v.Who.MayCompose() || !f.MayManage(v.Who.Viewer()):
		return fault.New(fault.Forbidden, "", "Only %s take “%s” away.", keepers(v, f), f.Name)
	}
	if err = lib.store.RemoveFolder(ctx, id); errors.Is(err, store.ErrTaken) {
		return fault.New(
			fault.Taken,
			"",
			"Something lies in “%s”, or in what was recently deleted from it. Move it first.",
			f.Name,
		)
	}
	if err == nil {
		lib.feed.Tell(feed.Event{Kind: store.KindFolder, ID: id})
	}
	return err
}

// CheckFolder says whether a person may put something of an owner's into a folder. Into a private folder only its owner
// puts things, and only what is the owner's: nobody takes others' work away so.
func (lib *Library) CheckFolder(ctx context.Context, v *answers.View, id, owner int64) error {
	in, err := lib.Reach(ctx, v)
	if err != nil {
		return err
	}
	f := in.Folders[id]
	switch {
	case f == nil:
		return fault.New(fault.Invalid, "/folder", "Choose a folder to keep it in.")
	case !f.MayChange(v.Who.Viewer()):
		return fault.New(fault.Forbidden, "/folder", "You may open “%s”, but not put anything into it.", f.Name)
	case f.Owner == nil && !v.Who.MayCompose():
		return fault.New(
			fault.Forbidden,
			"/folder",
			"You keep reports of your own, in your private folder. Ask a composer to put one into “%s”.",
			f.Name,
		)
	case f.Owner != nil && *f.Owner != owner:
		return fault.New(
			fault.Forbidden,
			"/folder",
			"This is %s’s: it stays where its readers find it. Keep a copy in your private folder instead.",
			people.Name(v.Snap, owner),
		)
	}
	return nil
}

// MovesAlong is the folder of something that is given to someone: out of a private folder it goes into theirs.
func (lib *Library) MovesAlong(ctx context.Context, folder, to int64) (int64, error) {
	list, err := lib.store.FoldersByID(ctx, []int64{folder})
	if err != nil || len(list) == 0 || list[0].Owner == nil || *list[0].Owner == to {
		return folder, err
	}
	return lib.store.PrivateFolder(ctx, to)
}
