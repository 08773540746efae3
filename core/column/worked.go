package column

import (
	"fmt"

	"uzzel/core/exact"
	"uzzel/core/schema"
)

// TodayDependent says whether a worked-out field changes from day to day; such a field is worked out in each run.
func TodayDependent(f *schema.Field) bool {
	return f.Worked != nil && (f.Worked.As == "days_to_today" || f.Worked.As == schema.ByFormula)
}

// work makes the column of a worked-out field.
func (s *Snapshot) work(t *Table, f *schema.Field) (*Column, error) {
	if f.Worked == nil {
		return nil, fmt.Errorf("%s.%s has no values", t.Type.Key, f.Key)
	}
	of := make([]*Column, len(f.Worked.Of))
	for i, key := range f.Worked.Of {
		c, err := s.Column(t.Type.Key, key)
		if err != nil {
			return nil, err
		}
		of[i] = c
	}
	switch f.Worked.As {
	case "stage_pipeline", "stage_status":
		return stagePart(t.Type.Stages, f, of[0]), nil
	case "topmost":
		return topmost(f, of[0], t.N), nil
	case "product":
		return each(f, t.N, 1, func(r int32) int64 { return workRow(f, of, r) }), nil
	case "days":
		of[0], of[1] = of[0].Days(), of[1].Days()
		return each(f, t.N, Micro, func(r int32) int64 { return workRow(f, of, r) }), nil
	case "since":
		return s.since(t, f, of)
	}
	return nil, fmt.Errorf("%s.%s: unknown way %q to work it out", t.Type.Key, f.Key, f.Worked.As)
}

// workRow works out a product or days of one record from the columns that they come from.
func workRow(f *schema.Field, of []*Column, row int32) int64 {
	a, b := of[0].At(row), of[1].At(row)
	if a == Null || b == Null {
		return Null
	}
	if f.Worked.As == "days" {
		return (of[1].dayOf(b) - of[0].dayOf(a)) * Micro
	}
	v, ok := exact.Frac(a, 100*Micro).Mul(exact.Int(b)).Scaled(1)
	if !ok {
		return Null
	}
	return v
}

// dayOf is the day of a value of a date or time column.
func (c *Column) dayOf(v int64) int64 {
	if c.Kind == schema.Time {
		return int64(c.cal.DayOf(v))
	}
	return v
}

func each(f *schema.Field, n int, unit int64, value func(row int32) int64) *Column {
	c := &Column{Kind: f.Kind, To: f.To, Ints: NewInts(unit)}
	for r := 0; r < n; r++ {
		c.Ints.Append(value(int32(r)))
	}
	return c
}

func stagePart(stages []schema.Stage, f *schema.Field, stage *Column) *Column {
	c := &Column{Kind: f.Kind, Dict: NewDict(f.Choices...), base: stage}
	for _, name := range stage.Dict.Values() {
		v := int64(Null)
		for _, st := range stages {
			if st.Name == name {
				part := st.Pipeline
				if f.Worked.As == "stage_status" {
					part = st.Status
				}
				v = int64(c.Dict.Code(part))
			}
		}
		c.remap = append(c.remap, v)
	}
	return c
}

// topmost follows a link of a table to itself to its end; a circle ends before it repeats.
func topmost(f *schema.Field, parent *Column, n int) *Column {
	seen := make([]int32, n)
	return each(f, n, 1, func(r int32) int64 {
		at := r
		for {
			seen[at] = r + 1
			up := parent.At(at)
			if up == Null || seen[up] == r+1 {
				return int64(at)
			}
			at = int32(up)
		}
	})
}

// since is the day of a record's latest change of a field, else the day of a time of its own.
func (s *Snapshot) since(t *Table, f *schema.Field, of []*Column) (*Column, error) {
	latest := make([]int64, t.N)
	of[1].Days().Run(0, latest)
	if err := s.latestChange(t.Type.Key, f.Worked.Of[0], latest); err != nil {
		return nil, err
	}
	return each(f, t.N, 1, func(r int32) int64 { return latest[r] }), nil
}

func (s *Snapshot) latestChange(typ, field string, latest []int64) error {
	changes, of, err := s.ChangesOf(typ)
	if err != nil || changes == nil {
		return err
	}
	var cols [2]*Column
	for i, key := range []string{schema.HistoryField, "at"} {
		if cols[i], err = s.Column(changes.Type.Key, key); err != nil {
			return err
		}
	}
	code := int64(cols[0].Dict.Code(field))
	day := cols[1].Days()
	newest := map[int64]int64{}
	for r := int32(0); int(r) < changes.N; r++ {
		to, at := of.At(r), cols[1].At(r)
		if to == Null || at == Null || cols[0].At(r) != code {
			continue
		}
		if was, ok := newest[to]; !ok || at >= was {
			newest[to] = at
			latest[to] = day.At(r)
		}
	}
	return nil
}
