package boards

import (
	"context"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Kinds of what is kept and can be followed, as they stand beside record types among what a person follows; no record
// type is called so.
const (
	FollowedReport = "/reports"
	FollowedBoard  = "/dashboards"
)

// KeptNews is what others did to a report or a dashboard that a person follows, the latest first.
type KeptNews struct {
	Kind    string // FollowedReport or FollowedBoard
	ID      int64
	Title   string
	Changes []KeptChange
}

// KeptChange is one version that somebody else made.
type KeptChange struct {
	Version int
	At      int64
	Who     string
	Change  []string
}

const (
	maxKeptFollowed = 50
	keptNewsSeconds = 14 * 86400
	maxKeptNews     = 5
)

// Follow has a person follow a report or a dashboard that they may open, or no longer.
func (bs *Boards) Follow(ctx context.Context, v *answers.View, kind string, id int64, on bool) error {
	if on {
		if _, _, err := bs.followable(ctx, v, kind, id); err != nil {
			return err
		}
		list, err := bs.followed(ctx, v)
		if err != nil {
			return err
		}
		if len(list) >= maxKeptFollowed {
			return fault.New(fault.Invalid, "",
				"You follow %d reports and dashboards, which is the most. Let one go first.", maxKeptFollowed)
		}
	}
	return bs.store.SetFollow(ctx, v.Who.ID, store.Followed{RecordType: kind, Record: id}, on)
}

// followed lists the reports and dashboards that a person follows.
func (bs *Boards) followed(ctx context.Context, v *answers.View) ([]store.Followed, error) {
	all, err := bs.store.Follows(ctx, v.Who.ID)
	var list []store.Followed
	for _, f := range all {
		if f.RecordType == FollowedReport || f.RecordType == FollowedBoard {
			list = append(list, f)
		}
	}
	return list, err
}

// KeptNews tells what others did in the last two weeks to the reports and dashboards that a person follows and may open.
func (bs *Boards) KeptNews(ctx context.Context, v *answers.View) ([]KeptNews, error) {
	follows, err := bs.followed(ctx, v)
	if err != nil {
		return nil, err
	}
	list := []KeptNews{}
	for _, f := range follows {
		n, err := bs.news(ctx, v, f.RecordType, f.Record)
		if err != nil {
			continue // deleted, or closed to them by now
		}
		list = append(list, n)
	}
	return list, nil
}

// followable is what a report or a dashboard that a person may open is called, and when it was last changed.
func (bs *Boards) followable(
	ctx context.Context,
	v *answers.View,
	kind string,
	id int64,
) (title string, at int64, err error) {
	switch kind {
	case FollowedReport:
		r, err := bs.lib.Report(ctx, v, id)
		if err != nil {
			return "", 0, err
		}
		return r.Title, r.Changed, nil
	case FollowedBoard:
		b, err := bs.lib.Board(ctx, v, id)
		if err != nil {
			return "", 0, err
		}
		return b.Title, b.Changed, nil
	}
	return "", 0, fault.New(fault.NotFound, "", "There is nothing of the kind to follow.")
}

func (bs *Boards) news(ctx context.Context, v *answers.View, kind string, id int64) (n KeptNews, err error) {
	since := bs.store.Now().Unix() - keptNewsSeconds
	n = KeptNews{Kind: kind, ID: id}
	add := func(version int, at, person int64, who string, change []string) {
		if person != v.Who.ID && at >= since && len(n.Changes) < maxKeptNews {
			n.Changes = append(n.Changes, KeptChange{version, at, who, change})
		}
	}
	var changed int64
	if n.Title, changed, err = bs.followable(ctx, v, kind, id); err != nil || changed < since {
		return n, err
	}
	if kind == FollowedReport {
		list, err := bs.lib.Versions(ctx, v, id)
		for _, x := range list {
			add(x.Version.Version, x.At, x.Person, x.Who, x.Change)
		}
		return n, err
	}
	list, err := bs.Versions(ctx, v, id)
	for _, x := range list {
		add(x.Version, x.At, x.Person, x.Who, x.Change)
	}
	return n, err
}
