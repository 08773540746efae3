package store

import (
	"context"
	"slices"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/column"
)

// Viewer is who asks for what was kept. An administrator opens every shared folder.
type Viewer struct {
	Person        int64
	Team          int64 // 0 for none
	Administrator bool
}

// Folder holds reports and boards. One with an owner is that person's private one; the others say in Access who may
// open them.
type Folder struct {
	ID     int64
	Name   string
	Owner  *int64
	Parent *int64
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
	return a.Kind == ForEveryone || (a.Kind == ForTeam && v.Team != 0 && a.Subject == v.Team) || (a.Kind == ForPerson && a.Subject == v.Person)
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

// openFolders is the query of the folders that a viewer may open.
func openFolders(db *gorm.DB, v Viewer) *gorm.DB {
	q := db.Session(&gorm.Session{NewDB: true}).Model(&Folder{}).Select("id")
	if v.Administrator {
		return q.Where("owner IS NULL OR owner = ?", v.Person)
	}
	return q.Where(`owner = ? OR (owner IS NULL AND id IN (SELECT folder FROM folder_access
		WHERE kind = 'everyone' OR (kind = 'team' AND subject = ?) OR (kind = 'person' AND subject = ?)))`, v.Person, v.Team, v.Person)
}

// openTo narrows a query to what lies in folders that a viewer may open and is not deleted.
func openTo(db *gorm.DB, v Viewer) *gorm.DB {
	return db.Where("deleted IS NULL AND folder IN (?)", openFolders(db, v))
}

// Folders lists the folders that a viewer may open, the own first, then by name.
func (s *Store) Folders(ctx context.Context, v Viewer) ([]Folder, error) {
	var list []Folder
	db := s.read.WithContext(ctx)
	return list, db.Where("id IN (?)", openFolders(db, v)).Preload("Access").
		Order("owner IS NULL, lower(name), id").Find(&list).Error
}

// AddFolder makes a shared folder with its access. ErrTaken says that there is one of that name in its parent.
func (s *Store) AddFolder(ctx context.Context, f *Folder) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error { return tx.Create(f).Error }))
}

// ChangeFolder keeps a shared folder's name and access.
func (s *Store) ChangeFolder(ctx context.Context, f *Folder) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
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

// FoldersOf gives the folder of each of some reports that are not deleted, by report, whoever may open it.
func (s *Store) FoldersOf(ctx context.Context, reports []int64) (map[int64]Folder, error) {
	var lies []struct{ ID, Folder int64 }
	db := s.read.WithContext(ctx)
	if err := db.Model(&Report{}).Select("id, folder").Where("id IN ? AND deleted IS NULL", reports).Find(&lies).Error; err != nil {
		return nil, err
	}
	var ids []int64
	for _, l := range lies {
		ids = append(ids, l.Folder)
	}
	var list []Folder
	if err := db.Where("id IN ?", ids).Preload("Access").Find(&list).Error; err != nil {
		return nil, err
	}
	by := map[int64]Folder{}
	for _, f := range list {
		by[f.ID] = f
	}
	out := map[int64]Folder{}
	for _, l := range lies {
		out[l.ID] = by[l.Folder]
	}
	return out, nil
}

// MayOpen says whether a viewer may open a folder.
func (f *Folder) MayOpen(v Viewer) bool {
	if f.Owner != nil {
		return *f.Owner == v.Person
	}
	return v.Administrator || slices.ContainsFunc(f.Access, func(a Access) bool { return a.Lets(v) })
}
