package diary

import (
	"context"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/store"
)

// Waiting is a list of one's own records that wait for something.
type Waiting struct {
	Key   string
	Title string
	Empty string // what is said where there are none
	Brief *brief.Brief
}

// News is how a record that one follows was changed lately by others.
type News struct {
	Ref
	Name    string
	Entries []Entry
}

// quietDays is for how many days nothing was done about what has gone quiet; newsDays how far back news go; maxNews how
// many of a record are told.
const (
	quietDays = 30
	newsDays  = 14
	maxNews   = 5
)

// Waits are the lists of what waits for a person: what is planned and overdue, and their open records that are past their
// date or have gone quiet.
func (d *Diary) Waits(v *answers.View) []Waiting {
	var list []Waiting
	if t := v.Snap.Schema.Diary(); t != nil && t.Owner != "" {
		plans := func(key, title, empty string, p period.Period, desc bool) {
			b := own(t, brief.Tree{Field: t.Diary.Done, Is: "none_of", Values: []string{"true"}},
				brief.Tree{Field: t.Diary.When, Is: "within", Period: &brief.Period{Period: p}})
			keys := []string{t.Diary.When, t.Diary.Kind, t.Diary.About}
			for _, f := range linksOf(t) {
				if f.Key != t.Diary.With {
					keys = append(keys, f.Key)
				}
			}
			b.Columns = columns(t, keys...)
			b.Order = []brief.Order{{Field: t.Diary.When, Desc: desc}}
			list = append(list, Waiting{key, title, empty, b})
		}
		plans("today", "Today", "Nothing is planned for today.", period.Period{Word: "today"}, false)
		plans("overdue", "Overdue", "Nothing is overdue.", period.Period{Word: "past"}, true)
		plans("coming", "In the next days", "Nothing is planned for the next seven days.",
			period.Period{Next: 7, Unit: period.ByDay}, false)
	}
	for _, t := range v.Snap.Schema.Types {
		list = append(list, staged(v.Snap.Schema, t)...)
	}
	return list
}

// staged are the lists of a type whose records go through stages: those past their date, and large ones gone quiet.
func staged(s *schema.Schema, t *schema.Type) []Waiting {
	var status, date, amount *schema.Field
	for i := range t.Fields {
		f := &t.Fields[i]
		switch {
		case f.Worked != nil && f.Worked.As == "stage_status" && status == nil:
			status = f
		case f.Kind == schema.Date && f.Entered() && f.Closes == "" && date == nil:
			date = f
		case f.Kind == schema.Money && f.Entered() && amount == nil:
			amount = f
		}
	}
	if status == nil || t.Owner == "" {
		return nil
	}
	many := strings.ToLower(t.Label)
	open := brief.Tree{Field: status.Key, Is: "any_of", Values: []string{"open"}}
	var list []Waiting
	if date != nil {
		b := own(
			t,
			open,
			brief.Tree{Field: date.Key, Is: "within", Period: &brief.Period{Period: period.Period{Word: "past"}}},
		)
		b.Columns = columns(t, t.Name, first(t), key(amount), date.Key)
		b.Order = []brief.Order{{Field: date.Key}}
		list = append(
			list,
			Waiting{"past " + t.Key, "Open " + many + " past their date", "None of your open " + many + " is past its date.", b},
		)
	}
	diary := s.Diary()
	for i := range t.Backs {
		back := &t.Backs[i]
		if diary == nil || back.Type != diary.Key || amount == nil {
			continue
		}
		none := func(p period.Period) brief.Tree {
			where := brief.Tree{All: []brief.Tree{{Field: diary.Diary.When, Is: "within", Period: &brief.Period{Period: p}}}}
			return brief.Tree{Link: back.Key, Is: "none", Where: &where}
		}
		most := 5
		b := own(
			t,
			open,
			none(period.Period{Last: quietDays, Unit: period.ByDay, Current: true}),
			none(period.Period{Word: "future"}),
		)
		b.Columns = columns(t, t.Name, first(t), amount.Key)
		b.Order, b.Limit = []brief.Order{{Field: amount.Key, Desc: true}}, &most
		list = append(list, Waiting{"quiet " + t.Key, "Large " + many + " gone quiet",
			"Something was done, or is planned, about all your open " + many + ".", b})
		break
	}
	return list
}

// own are a person's own records of a type that meet conditions.
func own(t *schema.Type, conds ...brief.Tree) *brief.Brief {
	return &brief.Brief{Version: brief.Version, Part: brief.Part{
		Start: t.Key, Whose: &brief.Whose{Word: "mine"}, Filter: &brief.Tree{All: conds},
	}}
}

func key(f *schema.Field) string {
	if f == nil {
		return ""
	}
	return f.Key
}

// first is the first link of a type to what its records belong to.
func first(t *schema.Type) string {
	if list := linksOf(t); len(list) > 0 {
		return list[0].Key
	}
	return ""
}

func columns(t *schema.Type, keys ...string) []brief.Column {
	var list []brief.Column
	for _, k := range keys {
		if t.Field(k) != nil {
			list = append(list, brief.Column{Field: k})
		}
	}
	return list
}

// maxFollowed is how many records a person follows at most: the news of each are read whenever Home is opened.
const maxFollowed = 100

// Follow has a person follow a record that they see, or no longer.
func (d *Diary) Follow(ctx context.Context, v *answers.View, ref Ref, on bool) error {
	if on {
		if _, _, _, err := lookup.Seen(v, ref.Type, strconv.FormatInt(ref.ID, 10)); err != nil {
			return err
		}
		list, err := d.store.Follows(ctx, v.Who.ID)
		if err != nil {
			return err
		}
		records := 0 // reports and dashboards are followed beside them
		for _, f := range list {
			if v.Snap.Schema.Type(f.RecordType) != nil {
				records++
			}
		}
		if records >= maxFollowed {
			return fault.New(fault.Invalid, "", "You follow %d records, which is the most. Let one go first.", maxFollowed)
		}
	}
	return d.store.SetFollow(ctx, v.Who.ID, store.Followed{RecordType: ref.Type, Record: ref.ID}, on)
}

// Follows says whether a person follows a record.
func (d *Diary) Follows(ctx context.Context, v *answers.View, ref Ref) (bool, error) {
	list, err := d.store.Follows(ctx, v.Who.ID)
	for _, f := range list {
		if f.RecordType == ref.Type && f.Record == ref.ID {
			return true, err
		}
	}
	return false, err
}

// News tells what others did about the records that a person follows, and how they changed them, in the last days.
func (d *Diary) News(ctx context.Context, v *answers.View) ([]News, error) {
	follows, err := d.store.Follows(ctx, v.Who.ID)
	if err != nil {
		return nil, err
	}
	list := []News{}
	for _, f := range follows {
		ref := Ref{f.RecordType, f.Record}
		if v.Snap.Schema.Type(ref.Type) == nil {
			continue // a report or a dashboard
		}
		line, err := d.Read(ctx, v, ref, Asked{From: v.Day - newsDays, To: v.Day})
		if err != nil {
			continue // deleted, or no longer theirs to see
		}
		n := News{Ref: ref, Name: v.Names()(f.RecordType, strconv.FormatInt(f.Record, 10))}
		for _, e := range line.Entries {
			if e.By != v.Who.ID && e.What != Planned && len(n.Entries) < maxNews {
				n.Entries = append(n.Entries, e)
			}
		}
		list = append(list, n)
	}
	return list, nil
}
