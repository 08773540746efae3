package store

import (
	"context"
	"errors"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/column"
)

// Account is who may sign in. Role is administrator, composer or reader.
type Account struct {
	Person   int64 `gorm:"primaryKey"`
	Role     string
	Password string
}

// Folder holds reports and boards; one with an owner is that person's private one.
type Folder struct {
	ID    int64
	Name  string
	Owner *int64
}

// Report is a brief and the details it is kept under.
type Report struct {
	ID          int64
	Folder      int64
	Owner       int64
	Title       string
	Folded      string
	Description string
	Brief       string
	Version     int
	Created     int64
	Changed     int64
	ChangedBy   int64
}

// Board is a dashboard.
type Board struct {
	ID      int64
	Folder  int64
	Owner   int64
	Title   string
	Folded  string
	Version int
	Changed int64
	Panels  []Panel `gorm:"foreignKey:Board"`
}

// Panel is a report placed on a board: its place and size in cells of a grid twelve wide.
type Panel struct {
	ID     int64
	Board  int64
	Report int64
	X      int
	Y      int
	W      int
	H      int
}

// PagePanel is a report on the page of each record of a type.
type PagePanel struct {
	ID         int64
	RecordType string
	Report     int64
	Link       string
	Place      int
}

// ErrTaken says that a title or name is taken in its folder.
var ErrTaken = errors.New("taken")

// ErrStale says that what is being changed was changed by someone else since it was read.
var ErrStale = errors.New("changed meanwhile")

func mapped(err error) error {
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	case errors.Is(err, gorm.ErrDuplicatedKey):
		return ErrTaken
	}
	return err
}

// Account finds the account of a person.
func (s *Store) Account(ctx context.Context, person int64) (Account, error) {
	var a Account
	return a, mapped(s.read.WithContext(ctx).First(&a, "person = ?", person).Error)
}

// Accounts lists all accounts.
func (s *Store) Accounts(ctx context.Context) ([]Account, error) {
	var list []Account
	return list, s.read.WithContext(ctx).Order("person").Find(&list).Error
}

// PutAccount makes or changes an account, and the private folder that goes with it.
func (s *Store) PutAccount(ctx context.Context, a Account) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Save(&a).Error; err != nil {
			return err
		}
		var n int64
		if err := tx.Model(&Folder{}).Where("owner = ?", a.Person).Count(&n).Error; err != nil || n > 0 {
			return err
		}
		return tx.Create(&Folder{Name: "Private", Owner: &a.Person}).Error
	})
}

// Folders lists the folders that a person may open: the shared ones and their own.
func (s *Store) Folders(ctx context.Context, person int64) ([]Folder, error) {
	var list []Folder
	return list, s.read.WithContext(ctx).Where("owner IS NULL OR owner = ?", person).
		Order("owner IS NULL, lower(name), id").Find(&list).Error
}

// AddFolder makes a shared folder. ErrTaken says that there is one of that name.
func (s *Store) AddFolder(ctx context.Context, name string) (Folder, error) {
	f := Folder{Name: name}
	return f, mapped(s.write.WithContext(ctx).Create(&f).Error)
}

// folded is the form of a title in which two that read the same are the same.
func folded(title string) string { return column.Fold(strings.Join(strings.Fields(title), " ")) }

// openTo narrows a query to what lies in folders that a person may open.
func openTo(db *gorm.DB, person int64) *gorm.DB {
	return db.Where("folder IN (SELECT id FROM folders WHERE owner IS NULL OR owner = ?)", person)
}

// Reports lists the reports that a person may open, the newest change first.
func (s *Store) Reports(ctx context.Context, person int64) ([]Report, error) {
	var list []Report
	return list, openTo(s.read.WithContext(ctx), person).Order("changed DESC, id DESC").Find(&list).Error
}

// Report finds a report that a person may open.
func (s *Store) Report(ctx context.Context, person, id int64) (Report, error) {
	var r Report
	return r, mapped(openTo(s.read.WithContext(ctx), person).First(&r, "id = ?", id).Error)
}

// AddReport keeps a new report.
func (s *Store) AddReport(ctx context.Context, r *Report) error {
	r.Folded, r.Version = folded(r.Title), 1
	r.Created, r.Changed = s.Now().Unix(), s.Now().Unix()
	return mapped(s.write.WithContext(ctx).Create(r).Error)
}

// ChangeReport keeps a changed report; r.Version is the version it was read at.
func (s *Store) ChangeReport(ctx context.Context, r *Report) error {
	at := r.Version
	r.Folded, r.Version, r.Changed = folded(r.Title), at+1, s.Now().Unix()
	done := s.write.WithContext(ctx).Model(&Report{}).Where("id = ? AND version = ?", r.ID, at).
		Select("folder", "title", "folded", "description", "brief", "version", "changed", "changed_by").Updates(r)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrStale
	}
	return mapped(done.Error)
}

// Boards lists the boards that a person may open, by title.
func (s *Store) Boards(ctx context.Context, person int64) ([]Board, error) {
	var list []Board
	return list, openTo(s.read.WithContext(ctx), person).Order("folded, id").Preload("Panels").Find(&list).Error
}

// Board finds a board that a person may open, with its panels in reading order.
func (s *Store) Board(ctx context.Context, person, id int64) (Board, error) {
	var b Board
	return b, mapped(openTo(s.read.WithContext(ctx), person).
		Preload("Panels", func(db *gorm.DB) *gorm.DB { return db.Order("y, x, id") }).First(&b, "id = ?", id).Error)
}

// AddBoard makes a board with its panels.
func (s *Store) AddBoard(ctx context.Context, b *Board) error {
	b.Folded, b.Version, b.Changed = folded(b.Title), 1, s.Now().Unix()
	return mapped(s.tx(ctx, func(tx *gorm.DB) error { return tx.Create(b).Error }))
}

// ChangeBoard keeps a board's title, folder and panels; b.Version is the version it was read at.
func (s *Store) ChangeBoard(ctx context.Context, b *Board) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		at := b.Version
		b.Folded, b.Version, b.Changed = folded(b.Title), at+1, s.Now().Unix()
		done := tx.Model(&Board{}).Where("id = ? AND version = ?", b.ID, at).
			Select("folder", "title", "folded", "version", "changed").Updates(b)
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return ErrStale
		}
		if err := tx.Delete(&Panel{}, "board = ?", b.ID).Error; err != nil {
			return err
		}
		for i := range b.Panels {
			b.Panels[i].Board = b.ID
		}
		if len(b.Panels) == 0 {
			return nil
		}
		return tx.Create(b.Panels).Error
	}))
}

// PagePanels lists the reports on the pages of a record type that a person may open.
func (s *Store) PagePanels(ctx context.Context, person int64, typ string) ([]PagePanel, error) {
	var list []PagePanel
	return list, s.read.WithContext(ctx).Where("record_type = ?", typ).
		Where("report IN (SELECT id FROM reports WHERE folder IN (SELECT id FROM folders WHERE owner IS NULL OR owner = ?))", person).
		Order("place, id").Find(&list).Error
}

// AddPagePanel puts a report on the pages of a record type. ErrTaken says that it stands there.
func (s *Store) AddPagePanel(ctx context.Context, p *PagePanel) error {
	return mapped(s.write.WithContext(ctx).Create(p).Error)
}

// RemovePagePanel takes a report off the pages of a record type.
func (s *Store) RemovePagePanel(ctx context.Context, typ string, report int64) error {
	done := s.write.WithContext(ctx).Delete(&PagePanel{}, "record_type = ? AND report = ?", typ, report)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
