package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Report is a brief and the details it is kept under.
type Report struct {
	ID          int64
	Folder      int64
	Owner       int64
	OwnerTeam   *int64 // the team whose report it is, beside its owner
	Title       string
	Folded      string
	Description string
	Brief       string
	Version     int
	Created     int64
	Changed     int64
	ChangedBy   int64
	Deleted     *int64
	DeletedBy   *int64
	NoDownload  bool
	Shown       string // the columns of the records behind a number, JSON; "" for the brief's own
	ShownFixed  bool   // readers may not change them
}

// Version is what a report was once.
type Version struct {
	ID          int64
	Report      int64
	Version     int
	Title       string
	Description string
	Brief       string
	At          int64
	Person      int64
}

// Draft is work that was not kept yet, of a report or, without one, of a new one.
type Draft struct {
	ID       int64
	Person   int64
	Report   *int64
	Version  int
	Brief    string
	Revision int
	Changed  int64
}

// KeepDeleted is how long what was deleted can be brought back.
const KeepDeleted = 30 * 24 * time.Hour

// Reports lists the reports that a viewer may open, the newest change first.
func (s *Store) Reports(ctx context.Context, v Viewer) ([]Report, error) {
	var list []Report
	return list, openTo(s.reader(ctx), v, KindReport).Order("changed DESC, id DESC").Find(&list).Error
}

// ReportsOf lists those of some reports that a viewer may open.
func (s *Store) ReportsOf(ctx context.Context, v Viewer, ids []int64) ([]Report, error) {
	var list []Report
	return list, openTo(s.reader(ctx), v, KindReport).Where("id IN ?", ids).Order("id").Find(&list).Error
}

// Report finds a report that a viewer may open.
func (s *Store) Report(ctx context.Context, v Viewer, id int64) (Report, error) {
	var r Report
	return r, mapped(openTo(s.reader(ctx), v, KindReport).First(&r, "id = ?", id).Error)
}

// AddReport keeps a new report.
func (s *Store) AddReport(ctx context.Context, r *Report) error {
	r.Folded, r.Version = folded(r.Title), 1
	r.Created, r.Changed = s.Now().Unix(), s.Now().Unix()
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Create(r).Error; err != nil {
			return err
		}
		return addVersion(tx, r)
	}))
}

func addVersion(tx *gorm.DB, r *Report) error {
	return tx.Create(
		&Version{
			Report:      r.ID,
			Version:     r.Version,
			Title:       r.Title,
			Description: r.Description,
			Brief:       r.Brief,
			At:          r.Changed,
			Person:      r.ChangedBy,
		},
	).Error
}

// ChangeReport keeps a changed report; r.Version is the version it was read at.
func (s *Store) ChangeReport(ctx context.Context, r *Report) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		at := r.Version
		r.Folded, r.Version, r.Changed = folded(r.Title), at+1, s.Now().Unix()
		done := tx.Model(&Report{}).Where("id = ? AND version = ? AND deleted IS NULL", r.ID, at).
			Select(
				"folder",
				"owner",
				"owner_team",
				"title",
				"folded",
				"description",
				"brief",
				"version",
				"changed",
				"changed_by",
				"no_download",
				"shown",
				"shown_fixed",
			).Updates(r)
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return ErrStale
		}
		return addVersion(tx, r)
	}))
}

// Versions lists what a report was, the newest first.
func (s *Store) Versions(ctx context.Context, report int64) ([]Version, error) {
	var list []Version
	return list, s.reader(ctx).Where("report = ?", report).Order("version DESC").Find(&list).Error
}

// DeleteReport puts a report away; for KeepDeleted it can be brought back.
func (s *Store) DeleteReport(ctx context.Context, id, person int64) error {
	return s.putAway(ctx, &Report{}, id, person)
}

func (s *Store) putAway(ctx context.Context, of any, id, person int64) error {
	return s.writer(
		ctx,
	).Model(
		of,
	).Where(
		"id = ?",
		id,
	).Updates(
		map[string]any{"deleted": s.Now().Unix(), "deleted_by": person},
	).Error
}

// DeletedReports lists the reports that were deleted from folders that a viewer may open.
func (s *Store) DeletedReports(ctx context.Context, v Viewer) ([]Report, error) {
	var list []Report
	return list, deletedFor(s.reader(ctx), v).Find(&list).Error
}

// BringReportBack brings a deleted report back. ErrTaken says that another has its title by now.
func (s *Store) BringReportBack(ctx context.Context, id int64) error {
	return mapped(
		s.writer(ctx).Model(&Report{}).Where("id = ?", id).Updates(map[string]any{"deleted": nil, "deleted_by": nil}).Error,
	)
}

// Purge takes away for good what was deleted more than KeepDeleted ago, and what it would take to undo changes of the
// shape of records that are older.
func (s *Store) Purge(ctx context.Context) error {
	before := s.Now().Add(-KeepDeleted).Unix()
	return s.tx(ctx, func(tx *gorm.DB) error {
		old := tx.Session(&gorm.Session{NewDB: true}).Model(&Report{}).Select("id").Where("deleted < ?", before)
		for _, of := range []any{&Panel{}, &PagePanel{}} {
			if err := tx.Where("report IN (?)", old).Delete(of).Error; err != nil {
				return err
			}
		}
		for _, of := range []any{&Report{}, &Board{}, &DeletedRecord{}} {
			if err := tx.Where("deleted < ?", before).Delete(of).Error; err != nil {
				return err
			}
		}
		undone := `DELETE FROM setting_undos WHERE change IN (SELECT id FROM setting_changes WHERE at < ?)`
		if err := tx.Exec(undone, before).Error; err != nil {
			return err
		}
		if err := tx.Exec(`DELETE FROM looks WHERE at < ?`, s.Now().Add(-keepLooks).Unix()).Error; err != nil {
			return err
		}
		for q, at := range map[string]int64{
			"DELETE FROM outbox WHERE made < ? AND state NOT IN ('waiting', 'sending')": KeepMails,
			"DELETE FROM inbox WHERE at < ?":                                            keepTold,
		} {
			if err := tx.Exec(q, s.Now().Unix()-at).Error; err != nil {
				return err
			}
		}
		return forgetShares(tx)
	})
}

// BoardsWith lists the boards on which a report is, those included that nobody in particular may open.
func (s *Store) BoardsWith(ctx context.Context, report int64) ([]Board, error) {
	var list []Board
	return list, s.reader(
		ctx,
	).Where(
		"deleted IS NULL AND id IN (SELECT board FROM panels WHERE report = ?)",
		report,
	).Order(
		"folded, id",
	).Find(
		&list,
	).Error
}

// Drafts lists a person's drafts, the newest change first.
func (s *Store) Drafts(ctx context.Context, person int64) ([]Draft, error) {
	var list []Draft
	return list, s.reader(ctx).Where("person = ?", person).Order("changed DESC, id DESC").Find(&list).Error
}

// PutDraft keeps a draft, a new one where it has no id. d.Revision is the one it was read at; ErrStale says that
// another window changed it since.
func (s *Store) PutDraft(ctx context.Context, d *Draft) error {
	at := d.Revision
	d.Revision, d.Changed = at+1, s.Now().Unix()
	if d.ID == 0 {
		err := mapped(s.writer(ctx).Create(d).Error)
		if errors.Is(err, ErrTaken) {
			return ErrStale // there is a draft of this report already
		}
		return err
	}
	done := s.writer(ctx).Model(&Draft{}).Where("id = ? AND person = ? AND revision = ?", d.ID, d.Person, at).
		Select("version", "brief", "revision", "changed").Updates(d)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrStale
	}
	return done.Error
}

// DropDraft throws a draft away.
func (s *Store) DropDraft(ctx context.Context, person, id int64) error {
	return s.writer(ctx).Delete(&Draft{}, "id = ? AND person = ?", id, person).Error
}

// Dismissed lists the codes of warnings that were dismissed for a report.
func (s *Store) Dismissed(ctx context.Context, report int64) ([]string, error) {
	var list []string
	return list, s.reader(ctx).Table("dismissed").Where("report = ?", report).Pluck("code", &list).Error
}

// Dismiss dismisses a warning for a report.
func (s *Store) Dismiss(ctx context.Context, report, person int64, code string) error {
	return s.writer(ctx).Table("dismissed").Clauses(clause.OnConflict{DoNothing: true}).
		Create(map[string]any{"report": report, "code": code, "person": person}).Error
}
