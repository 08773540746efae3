package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// Kept counts the reports and dashboards of a person, of which those in the private folder are seen by nobody else.
func (s *Store) Kept(ctx context.Context, person int64) (reports, boards int64, err error) {
	db := s.reader(ctx)
	if err = db.Table("reports").Where("owner = ? AND deleted IS NULL", person).Count(&reports).Error; err != nil {
		return 0, 0, err
	}
	return reports, boards, db.Table("boards").Where("owner = ? AND deleted IS NULL", person).Count(&boards).Error
}

// HandOver makes the reports or boards (table) of one person another's. What is in the private folder of the first goes
// to that of the second; where a title is taken there, it is told apart by said.
func (s *Store) HandOver(ctx context.Context, table string, from, to int64, said string) error {
	if table != "reports" && table != "boards" {
		return fmt.Errorf("%q is nothing that is handed over", table)
	}
	return s.tx(ctx, func(tx *gorm.DB) error {
		var folders []Folder
		if err := tx.Find(&folders, "owner IN ?", []int64{from, to}).Error; err != nil {
			return err
		}
		private := map[int64]int64{}
		for _, f := range folders {
			private[*f.Owner] = f.ID
		}
		var rows []struct {
			ID    int64
			Title string
		}
		err := tx.Table(table).Select("id, title").Where("folder = ? AND owner = ?", private[from], from).Find(&rows).Error
		if err != nil {
			return err
		}
		for _, r := range rows {
			title, taken := r.Title, int64(0)
			for n := 1; ; n++ {
				err := tx.Table(table).Where("folder = ? AND folded = ? AND deleted IS NULL", private[to], folded(title)).
					Count(&taken).Error
				if err != nil {
					return err
				}
				if taken == 0 {
					break
				}
				title = fmt.Sprintf("%s (%s)", r.Title, said)
				if n > 1 {
					title = fmt.Sprintf("%s (%s, %d)", r.Title, said, n)
				}
			}
			set := map[string]any{"folder": private[to], "title": title, "folded": folded(title)}
			if err := tx.Table(table).Where("id = ?", r.ID).Updates(set).Error; err != nil {
				return err
			}
		}
		return tx.Table(table).Where("owner = ?", from).Update("owner", to).Error
	})
}
