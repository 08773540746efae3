package store

import (
	"context"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/column"
)

// Viewer is who asks for what was kept. An administrator opens every shared folder.
type Viewer struct {
	Person        int64
	Team          int64 // 0 for none
	Administrator bool
	// Seen says that an administrator looks at what the viewer would see: without what is the viewer's alone.
	Seen bool
}

// Folder holds reports and boards. One with an owner is that person's private one; the others say in Access who may
// open them.
type Folder struct {
	ID     int64
	Name   string
	Owner  *int64
	Parent *int64
	Keeper *int64   // who made it and says who may open it, besides administrators; none for those that were there first
	Access []Access `gorm:"foreignKey:Folder"`
}

// Access lets someone open a folder, and where MayChange is set change what lies in it. Kind is everyone, team or
// person; Subject the team or person.
type Access struct {
	Folder    int64  `gorm:"primaryKey"`
	Kind      string `gorm:"primaryKey"`
	Subject   int64  `gorm:"primaryKey"`
	MayChange bool
}

// TableName is the table of accesses.
func (Access) TableName() string { return "folder_access" }

// Kinds of access.
const (
	ForEveryone = "everyone"
	ForTeam     = "team"
	ForPerson   = "person"
)

// Lets says whether an access is for a viewer.
func (a Access) Lets(v Viewer) bool {
	return a.Kind == ForEveryone || (a.Kind == ForTeam && v.Team != 0 && a.Subject == v.Team) ||
		(a.Kind == ForPerson && a.Subject == v.Person)
}

// MayChange says whether a viewer may change what lies in a folder.
func (f *Folder) MayChange(v Viewer) bool {
	if f.Owner != nil {
		return *f.Owner == v.Person
	}
	for _, a := range f.Access {
		if a.MayChange && a.Lets(v) {
			return true
		}
	}
	return v.Administrator
}

// MayManage says whether a viewer may change a shared folder's name and who may open it.
func (f *Folder) MayManage(v Viewer) bool {
	return f.Owner == nil && (v.Administrator || (f.Keeper != nil && *f.Keeper == v.Person))
}

// openFolders is the query of the folders that a viewer may open.
func openFolders(db *gorm.DB, v Viewer) *gorm.DB {
	q := db.Session(&gorm.Session{NewDB: true}).Model(&Folder{}).Select("id")
	if v.Seen {
		q = q.Where("owner IS NULL")
	}
	if v.Administrator {
		return q.Where("owner IS NULL OR owner = ?", v.Person)
	}
	return q.Where(`owner = ? OR (owner IS NULL AND id IN (SELECT folder FROM folder_access
		WHERE kind = 'everyone' OR (kind = 'team' AND subject = ?) OR (kind = 'person' AND subject = ?)))`, v.Person, v.Team, v.Person)
}

// openTo narrows a query of a kind of things to what a viewer may open and is not deleted: what lies in folders that
// the viewer may open, what is the viewer's own, wherever it lies, and what is shared with the viewer.
func openTo(db *gorm.DB, v Viewer, kind string) *gorm.DB {
	if v.Seen {
		return db.Where("deleted IS NULL AND (folder IN (?) OR id IN (?))", openFolders(db, v), sharedWith(db, v, kind))
	}
	return db.Where(
		"deleted IS NULL AND (folder IN (?) OR owner = ? OR id IN (?))",
		openFolders(db, v),
		v.Person,
		sharedWith(db, v, kind),
	)
}

// deletedFor narrows a query likewise to what is deleted.
func deletedFor(db *gorm.DB, v Viewer) *gorm.DB {
	if v.Seen {
		return db.Where("deleted IS NOT NULL AND folder IN (?)", openFolders(db, v)).Order("deleted DESC, id DESC")
	}
	return db.Where(
		"deleted IS NOT NULL AND (folder IN (?) OR owner = ?)",
		openFolders(db, v),
		v.Person,
	).Order(
		"deleted DESC, id DESC",
	)
}

// Folders lists the folders that a viewer may open, the own first, then by name.
func (s *Store) Folders(ctx context.Context, v Viewer) ([]Folder, error) {
	var list []Folder
	db := s.reader(ctx)
	return list, db.Where("id IN (?)", openFolders(db, v)).Preload("Access").
		Order("owner IS NULL, lower(name), id").Find(&list).Error
}

// AddFolder makes a shared folder with its access. ErrTaken says that there is one of that name in its parent.
func (s *Store) AddFolder(ctx context.Context, f *Folder) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error { return tx.Create(f).Error }))
}

// ChangeFolder keeps a shared folder's name and access; at is the version that it was read at.
func (s *Store) ChangeFolder(ctx context.Context, f *Folder, at int) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, SettingFolder+strconv.FormatInt(f.ID, 10), at); err != nil {
			return err
		}
		if err := tx.Model(&Folder{}).Where("id = ?", f.ID).Update("name", f.Name).Error; err != nil {
			return err
		}
		if err := tx.Delete(&Access{}, "folder = ?", f.ID).Error; err != nil {
			return err
		}
		for i := range f.Access {
			f.Access[i].Folder = f.ID
		}
		if len(f.Access) == 0 {
			return nil
		}
		return tx.Create(f.Access).Error
	}))
}

// RemoveFolder takes away a shared folder in which nothing lies, deleted things included. ErrTaken says that something
// does.
func (s *Store) RemoveFolder(ctx context.Context, id int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		for _, q := range []string{"SELECT count(*) FROM reports WHERE folder = ?", "SELECT count(*) FROM boards WHERE folder = ?", "SELECT count(*) FROM folders WHERE parent = ?"} {
			var n int64
			if err := tx.Raw(q, id).Scan(&n).Error; err != nil {
				return err
			}
			if n > 0 {
				return ErrTaken
			}
		}
		return tx.Delete(&Folder{}, "id = ? AND owner IS NULL", id).Error
	})
}

// folded is the form of a title in which two that read the same are the same.
func folded(title string) string { return column.Fold(strings.Join(strings.Fields(title), " ")) }

// Lying is where a report lies, whose it is, and whom it is shared with.
type Lying struct {
	Folder
	ReportOwner int64
	Shares      []Access
}

// MayRead says whether a viewer may open a report that lies so.
func (l *Lying) MayRead(v Viewer) bool {
	return (l.ReportOwner == v.Person && !v.Seen) || l.MayOpen(v) || lets(l.Shares, v)
}

// Lie gives where each of some reports that are not deleted lies, by report, whoever may open it.
func (s *Store) Lie(ctx context.Context, reports []int64) (map[int64]Lying, error) {
	var lies []struct{ ID, Folder, Owner int64 }
	if err := s.reader(
		ctx,
	).Model(
		&Report{},
	).Select(
		"id, folder, owner",
	).Where(
		"id IN ? AND deleted IS NULL",
		reports,
	).Find(
		&lies,
	).Error; err != nil {
		return nil, err
	}
	var ids []int64
	for _, l := range lies {
		ids = append(ids, l.Folder)
	}
	list, err := s.FoldersByID(ctx, ids)
	if err != nil {
		return nil, err
	}
	shares, err := s.sharesOf(ctx, KindReport, reports)
	if err != nil {
		return nil, err
	}
	by := map[int64]Folder{}
	for _, f := range list {
		by[f.ID] = f
	}
	out := map[int64]Lying{}
	for _, l := range lies {
		out[l.ID] = Lying{by[l.Folder], l.Owner, shares[l.ID]}
	}
	return out, nil
}

// FoldersByID gives some folders with their access, whoever may open them.
func (s *Store) FoldersByID(ctx context.Context, ids []int64) ([]Folder, error) {
	var list []Folder
	return list, s.reader(ctx).Where("id IN ?", ids).Preload("Access").Find(&list).Error
}

// PrivateFolder is the id of a person's private folder.
func (s *Store) PrivateFolder(ctx context.Context, person int64) (int64, error) {
	var f Folder
	err := mapped(s.reader(ctx).First(&f, "owner = ?", person).Error)
	return f.ID, err
}

// MayOpen says whether a viewer may open a folder.
func (f *Folder) MayOpen(v Viewer) bool {
	if f.Owner != nil {
		return *f.Owner == v.Person && !v.Seen
	}
	return v.Administrator || lets(f.Access, v)
}
