// Package inbox is what a person is told in the application: what was sent to them, what happened, what others did to
// what they follow, one line each, by day.
package inbox

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"uzzel/internal/answers"
	"uzzel/internal/boards"
	"uzzel/internal/deliveries"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Followed is the kind of lines about what one follows; the others are those of deliveries.
const Followed = "followed"

// Kinds are what a person can be told of, with what each is.
var Kinds = []struct{ Key, Words string }{
	{deliveries.ToldSent, "what is sent to you"},
	{deliveries.ToldEvent, "what happens in reports"},
	{Followed, "changes of what you follow"},
	{deliveries.ToldTrouble, "what of yours could not be sent"},
}

// Inbox tells people.
type Inbox struct {
	store  *store.Store
	diary  *diary.Diary
	boards *boards.Boards
}

// New gives the inboxes of a store.
func New(s *store.Store, d *diary.Diary, b *boards.Boards) *Inbox { return &Inbox{s, d, b} }

// Line is one thing that a person is told.
type Line struct {
	ID     int64 // 0 of what they follow, which is told as long as it is news
	At     int64
	Kind   string
	Text   string
	Link   string
	Unread bool
}

// Day are the lines of one day, the latest first.
type Day struct {
	Words string
	Lines []Line
}

// Read is a person's inbox, the latest day first. It is theirs alone: who sees as another does not see it.
func (b *Inbox) Read(ctx context.Context, v *answers.View) ([]Day, []string, error) {
	if err := own(v.Who); err != nil {
		return nil, nil, err
	}
	choice, err := b.store.InboxChoice(ctx, v.Who.ID)
	if err != nil {
		return nil, nil, err
	}
	lines, err := b.lines(ctx, v, choice)
	if err != nil {
		return nil, nil, err
	}
	days := []Day{}
	for _, l := range lines {
		words := v.Figures.Form.Day(v.Snap.Cal.DayOf(l.At))
		if n := len(days); n == 0 || days[n-1].Words != words {
			days = append(days, Day{Words: words})
		}
		d := &days[len(days)-1]
		d.Lines = append(d.Lines, l)
	}
	return days, strings.Fields(choice.Quiet), nil
}

func (b *Inbox) lines(ctx context.Context, v *answers.View, choice store.InboxChoice) ([]Line, error) {
	told, err := b.store.ToldTo(ctx, v.Who.ID)
	if err != nil {
		return nil, err
	}
	lines, err := b.followed(ctx, v, choice.Seen)
	if err != nil {
		return nil, err
	}
	for _, t := range told {
		lines = append(lines, Line{t.ID, t.At, t.Kind, t.Text, t.Link, !t.Read})
	}
	slices.SortStableFunc(lines, func(a, b Line) int { return cmp.Compare(b.At, a.At) })
	return lines, nil
}

// did is what others did to one thing on one day.
type did struct {
	at    int64
	times int
	by    []string
}

func (d *did) add(at int64, who string) {
	d.at, d.times = max(d.at, at), d.times+1
	if who != "" && !slices.Contains(d.by, who) {
		d.by = append(d.by, who)
	}
}

func (d *did) words(name string) string {
	times := "1 change"
	if d.times > 1 {
		times = fmt.Sprintf("%d changes", d.times)
	}
	by := ""
	if len(d.by) > 0 {
		by = " by " + strings.Join(d.by[:min(3, len(d.by))], ", ")
		if more := len(d.by) - 3; more > 0 {
			by += fmt.Sprintf(" and %d more", more)
		}
	}
	return name + ": " + times + by
}

// followed is what others did to what a person follows: a line for each thing and day.
func (b *Inbox) followed(ctx context.Context, v *answers.View, seen int64) ([]Line, error) {
	var lines []Line
	byDay := func(name, link string, each func(add func(at int64, who string))) {
		days := map[int32]*did{}
		each(func(at int64, who string) {
			day := v.Snap.Cal.DayOf(at)
			if days[day] == nil {
				days[day] = &did{}
			}
			days[day].add(at, who)
		})
		for _, d := range days {
			lines = append(lines, Line{0, d.at, Followed, d.words(name), link, d.at > seen})
		}
	}
	news, err := b.diary.News(ctx, v)
	if err != nil {
		return nil, err
	}
	for _, n := range news {
		byDay(n.Name, fmt.Sprintf("/records/%s/%d", n.Type, n.ID), func(add func(int64, string)) {
			for _, e := range n.Entries {
				add(e.Written, e.Person)
			}
		})
	}
	kept, err := b.boards.KeptNews(ctx, v)
	for _, n := range kept {
		byDay(n.Title, fmt.Sprintf("%s/%d", n.Kind, n.ID), func(add func(int64, string)) {
			for _, c := range n.Changes {
				add(c.At, c.Who)
			}
		})
	}
	return lines, err
}

// Unread counts what a person has not read, but for what is quiet.
func (b *Inbox) Unread(ctx context.Context, v *answers.View) (int, error) {
	if v.Who.SeenBy != 0 {
		return 0, nil
	}
	choice, err := b.store.InboxChoice(ctx, v.Who.ID)
	if err != nil {
		return 0, err
	}
	quiet := strings.Fields(choice.Quiet)
	told, err := b.store.Unread(ctx, v.Who.ID, quiet)
	if err != nil || slices.Contains(quiet, Followed) {
		return int(told), err
	}
	lines, err := b.followed(ctx, v, choice.Seen)
	n := int(told)
	for _, l := range lines {
		if l.Unread {
			n++
		}
	}
	return n, err
}

// SetRead marks all that a person is told by now as read. upTo is the highest number among what they have before them.
func (b *Inbox) SetRead(ctx context.Context, v *answers.View, upTo int64) error {
	if err := own(v.Who); err != nil {
		return err
	}
	choice, err := b.store.InboxChoice(ctx, v.Who.ID)
	if err != nil {
		return err
	}
	choice.Seen = b.store.Now().Add(time.Second).Unix()
	if err := b.store.SetInboxChoice(ctx, choice); err != nil {
		return err
	}
	return b.store.SetRead(ctx, v.Who.ID, upTo)
}

// SetQuiet says which kinds are not counted.
func (b *Inbox) SetQuiet(ctx context.Context, v *answers.View, kinds []string) error {
	if err := own(v.Who); err != nil {
		return err
	}
	for _, k := range kinds {
		if !slices.ContainsFunc(Kinds, func(one struct{ Key, Words string }) bool { return one.Key == k }) {
			return fault.New(fault.Invalid, "/quiet", "Nobody is told of “%s”.", k)
		}
	}
	choice, err := b.store.InboxChoice(ctx, v.Who.ID)
	if err != nil {
		return err
	}
	choice.Quiet = strings.Join(kinds, " ")
	return b.store.SetInboxChoice(ctx, choice)
}

func own(who people.Person) error {
	if who.SeenBy != 0 {
		return fault.New(fault.Forbidden, "", "What somebody is told is theirs alone.")
	}
	return nil
}
