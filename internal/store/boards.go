package store

import (
	"context"

	"gorm.io/gorm"
)

// Board is a dashboard.
type Board struct {
	ID        int64
	Folder    int64
	Owner     int64
	Title     string
	Folded    string
	Version   int
	Changed   int64
	Deleted   *int64
	DeletedBy *int64
	Filters   string  // JSON, "" for none
	Panels    []Panel `gorm:"foreignKey:Board"`
	ChangedBy int64   `gorm:"-"` // who changes it now; its owner where it is 0
}

// Panel is a report placed on a board, or words: its place and size in cells of a grid twelve wide.
type Panel struct {
	ID      int64  `json:"-"`
	Board   int64  `json:"-"`
	Report  int64  `gorm:"default:null" json:"report"` // 0, NULL in the file, for words
	X       int    `json:"x"`
	Y       int    `json:"y"`
	W       int    `json:"w"`
	H       int    `json:"h"`
	Options string `json:"options"` // JSON, "" for none
}

// PagePanel is a report on the page of each record of a type.
type PagePanel struct {
	ID         int64
	RecordType string
	Report     int64
	Link       string
	Place      int
	Light      string
	Heading    string
	Tall       int
}

// Boards lists the boards that a viewer may open, by title.
func (s *Store) Boards(ctx context.Context, v Viewer) ([]Board, error) {
	var list []Board
	return list, openTo(s.reader(ctx), v, KindBoard).Order("folded, id").Preload("Panels").Find(&list).Error
}

// Board finds a board that a viewer may open, with its panels in reading order.
func (s *Store) Board(ctx context.Context, v Viewer, id int64) (Board, error) {
	var b Board
	return b, mapped(openTo(s.reader(ctx), v, KindBoard).
		Preload("Panels", func(db *gorm.DB) *gorm.DB { return db.Order("y, x, id") }).First(&b, "id = ?", id).Error)
}

// AddBoard makes a board with its panels.
func (s *Store) AddBoard(ctx context.Context, b *Board) error {
	b.Folded, b.Version, b.Changed = folded(b.Title), 1, s.Now().Unix()
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Omit("Panels").Create(b).Error; err != nil {
			return err
		}
		if err := addPanels(tx, b); err != nil {
			return err
		}
		return addBoardVersion(tx, b)
	}))
}

// ChangeBoard keeps a board's title, folder and panels; b.Version is the version it was read at.
func (s *Store) ChangeBoard(ctx context.Context, b *Board) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		at := b.Version
		b.Folded, b.Version, b.Changed = folded(b.Title), at+1, s.Now().Unix()
		done := tx.Model(&Board{}).Where("id = ? AND version = ? AND deleted IS NULL", b.ID, at).
			Select("folder", "owner", "title", "folded", "version", "changed", "filters").Updates(b)
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return ErrStale
		}
		if err := tx.Delete(&Panel{}, "board = ?", b.ID).Error; err != nil {
			return err
		}
		if err := addPanels(tx, b); err != nil {
			return err
		}
		return addBoardVersion(tx, b)
	}))
}

// addPanels adds a board's panels one by one: SQLite has no word for a default among several rows, which words need for
// the report that they have not.
func addPanels(tx *gorm.DB, b *Board) error {
	for i := range b.Panels {
		b.Panels[i].Board = b.ID
		if err := tx.Create(&b.Panels[i]).Error; err != nil {
			return err
		}
	}
	return nil
}

// DeleteBoard puts a board away; for KeepDeleted it can be brought back.
func (s *Store) DeleteBoard(ctx context.Context, id, person int64) error {
	return s.putAway(ctx, &Board{}, id, person)
}

// DeletedBoards lists the boards that were deleted from folders that a viewer may open.
func (s *Store) DeletedBoards(ctx context.Context, v Viewer) ([]Board, error) {
	var list []Board
	return list, deletedFor(s.reader(ctx), v).Find(&list).Error
}

// BringBoardBack brings a deleted board back. ErrTaken says that another has its title by now.
func (s *Store) BringBoardBack(ctx context.Context, id int64) error {
	return mapped(
		s.writer(ctx).Model(&Board{}).Where("id = ?", id).Updates(map[string]any{"deleted": nil, "deleted_by": nil}).Error,
	)
}

// PagePanels lists the reports on the pages of a record type that a viewer may open.
func (s *Store) PagePanels(ctx context.Context, v Viewer, typ string) ([]PagePanel, error) {
	var list []PagePanel
	db := s.reader(ctx)
	open := openTo(db.Session(&gorm.Session{NewDB: true}).Model(&Report{}), v, KindReport).Select("id")
	return list, db.Where("record_type = ?", typ).Where("report IN (?)", open).Order("place, id").Find(&list).Error
}

// AllPagePanels lists the reports on the pages of all record types, whoever may open them.
func (s *Store) AllPagePanels(ctx context.Context) ([]PagePanel, error) {
	var list []PagePanel
	return list, s.reader(ctx).Order("record_type, place, id").Find(&list).Error
}

// AddPagePanel puts a report on the pages of a record type. ErrTaken says that it is there.
func (s *Store) AddPagePanel(ctx context.Context, p *PagePanel) error {
	return mapped(s.writer(ctx).Create(p).Error)
}

// ChangePagePanel changes how a report stands on the pages of a record type.
func (s *Store) ChangePagePanel(ctx context.Context, p *PagePanel) error {
	done := s.writer(ctx).Model(&PagePanel{}).Where("record_type = ? AND report = ?", p.RecordType, p.Report).
		Select("link", "light", "heading", "tall").Updates(p)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// OrderPagePanels has the reports on the pages of a record type stand in an order; those that it does not name come last.
func (s *Store) OrderPagePanels(ctx context.Context, typ string, reports []int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		last := len(reports)
		if err := tx.Exec("UPDATE page_panels SET place = ? WHERE record_type = ?", last, typ).Error; err != nil {
			return err
		}
		for i, r := range reports {
			if err := tx.Exec(
				"UPDATE page_panels SET place = ? WHERE record_type = ? AND report = ?",
				i,
				typ,
				r,
			).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// RemovePagePanel takes a report off the pages of a record type.
func (s *Store) RemovePagePanel(ctx context.Context, typ string, report int64) error {
	done := s.writer(ctx).Delete(&PagePanel{}, "record_type = ? AND report = ?", typ, report)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
