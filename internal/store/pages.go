package store

import "context"

// PageDraft is how a person is laying out the pages of a record type, for a team or (0) for all, without having saved it.
// Layout is JSON.
type PageDraft struct {
	Person   int64  `gorm:"primaryKey;autoIncrement:false"`
	Type     string `gorm:"primaryKey"`
	Team     int64  `gorm:"primaryKey;autoIncrement:false"`
	Version  int    // of the layout that is being changed
	Layout   string
	Revision int
	Changed  int64
}

// PageDraft finds a person's draft of the pages of a record type.
func (s *Store) PageDraft(ctx context.Context, person int64, typ string, team int64) (PageDraft, error) {
	var d PageDraft
	return d, mapped(s.reader(ctx).First(&d, "person = ? AND type = ? AND team = ?", person, typ, team).Error)
}

// PutPageDraft keeps a draft of pages. d.Revision is the one it was read at, 0 for a new one; ErrStale says that another
// window changed it since.
func (s *Store) PutPageDraft(ctx context.Context, d *PageDraft) error {
	return s.putLayoutDraft(ctx, d, &d.Revision, &d.Changed, d.Version, d.Layout)
}

// DropPageDraft throws a person's draft of pages away.
func (s *Store) DropPageDraft(ctx context.Context, person int64, typ string, team int64) error {
	return s.writer(ctx).Delete(&PageDraft{}, "person = ? AND type = ? AND team = ?", person, typ, team).Error
}
