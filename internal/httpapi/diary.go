package httpapi

import (
	"context"
	"fmt"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/period"
	"uzzel/internal/boards"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
)

// EntryBody is an entry of the time line of a record.
type EntryBody struct {
	What    string `json:"what" enum:"did,planned,changed,made"`
	At      int64  `json:"at" doc:"Seconds since 1970"`
	Written int64  `json:"written" doc:"When it was written down, in seconds since 1970"`
	When    string `json:"when" doc:"The same for people"`
	Person  string `json:"person"`
	By      int64  `json:"by" doc:"The person's number; 0 for nobody known"`
	ID      int64  `json:"id" doc:"Of what was done or is planned: its record"`
	Kind    string `json:"kind"`
	About   string `json:"about"`
	Notes   string `json:"notes"`
	Outcome string `json:"outcome"`
	With    string `json:"with"`
	WithID  string `json:"withId"`
	Minutes string `json:"minutes"`
	Late    bool   `json:"late" doc:"Planned, and its time is over"`
	Field   string `json:"field" doc:"Of a change: the field"`
	Label   string `json:"label"`
	From    string `json:"from" doc:"What it was, for people"`
	To      string `json:"to"`
	Was     string `json:"was" doc:"What it was, as it is kept"`
	Is      string `json:"is"`
}

// TimelineBody is a page of the time line of a record, the latest first.
type TimelineBody struct {
	Entries []EntryBody    `json:"entries"`
	More    bool           `json:"more" doc:"Whether there are earlier ones"`
	Kinds   map[string]int `json:"kinds" doc:"How much of each kind was done and is planned"`
	Changes int            `json:"changes" doc:"How many changes there are"`
}

// WayStepBody is a stage on the way of a record.
type WayStepBody struct {
	Stage  string `json:"stage"`
	Status string `json:"status" enum:"open,won,lost"`
	Since  string `json:"since" doc:"The day it came there last; empty for never"`
	Days   int    `json:"days" doc:"That it was there"`
	Now    bool   `json:"now"`
}

// WayBody is the way of a record through its stages.
type WayBody struct {
	Field string        `json:"field" doc:"Where its stage is kept; empty for a type without stages"`
	Steps []WayStepBody `json:"steps"`
}

// UnderstoodBody is one thing that a line says, as it is kept.
type UnderstoodBody struct {
	Said    string `json:"said"`
	Lacks   string `json:"lacks,omitempty" doc:"What is missing to keep it"`
	Planned bool   `json:"planned"`
}

// LogBody is what a line was understood as, and the numbers of what was kept.
type LogBody struct {
	Things []UnderstoodBody `json:"things"`
	IDs    []int64          `json:"ids"`
}

// WaitingBody is a list of one's own records that wait for something.
type WaitingBody struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	Empty string `json:"empty" doc:"What is said where there are none"`
	Brief Brief  `json:"brief"`
}

// NewsBody is what others did about a record that one follows.
type NewsBody struct {
	Type    string      `json:"type"`
	ID      int64       `json:"id"`
	Name    string      `json:"name"`
	Entries []EntryBody `json:"entries"`
}

// WaitsBody is what waits for a person, and the news of what the person follows.
type WaitsBody struct {
	Waiting []WaitingBody  `json:"waiting"`
	News    []NewsBody     `json:"news"`
	Kept    []KeptNewsBody `json:"kept" doc:"The news of reports and dashboards that the person follows"`
}

// KeptNewsBody is what others did to a report or a dashboard that one follows.
type KeptNewsBody struct {
	Place   string           `json:"place" doc:"Its address here: /reports/3, /dashboards/4"`
	Title   string           `json:"title"`
	Changes []KeptChangeBody `json:"changes"`
}

// KeptChangeBody is one version that somebody else made.
type KeptChangeBody struct {
	At     int64    `json:"at"`
	Who    string   `json:"who"`
	Change []string `json:"change"`
}

// FollowBody says whether one follows a record.
type FollowBody struct {
	On bool `json:"on"`
}

func entryBodies(list []diary.Entry) []EntryBody {
	out := []EntryBody{}
	for _, e := range list {
		out = append(out, EntryBody(e))
	}
	return out
}

func dayIn(text, pointer string) (int32, error) {
	if text == "" {
		return 0, nil
	}
	day, err := period.ParseDay(text)
	if err != nil {
		return 0, fault.New(fault.Invalid, pointer, "A day is written like 2026-05-14.")
	}
	return day, nil
}

// SinceBody is what others did about a record, and changed in it, since one last looked at it.
type SinceBody struct {
	At   int64       `json:"at" doc:"When that was, in seconds since 1970; 0 for never"`
	When string      `json:"when" doc:"The same for people"`
	News []EntryBody `json:"news" doc:"The latest first"`
}

// diary are the operations on what people do, and on what was.
func (a *api) diary(g huma.API) {
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/records/{type}/{id}/timeline",
			"timeline",
			"What was done about a record, and how it was changed",
		),
		func(ctx context.Context, in *struct {
			Type   string `path:"type"`
			ID     int64  `path:"id"`
			What   string `query:"what" doc:"changed for changes alone, planned for what is planned"`
			Kind   string `query:"kind"`
			Person int64  `query:"person"`
			From   string `query:"from"`
			To     string `query:"to"`
			Before int64  `query:"before"`
		}) (*out[TimelineBody], error) {
			from, err := dayIn(in.From, "/from")
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			to, err := dayIn(in.To, "/to")
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			line, err := a.app.Diary.Read(ctx, view(ctx), diary.Ref{Type: in.Type, ID: in.ID}, diary.Asked{
				What: in.What, Kind: in.Kind, Person: in.Person, From: from, To: to, Before: in.Before,
			})
			body := TimelineBody{entryBodies(line.Entries), line.More, line.Kinds, line.Changes}
			return &out[TimelineBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/records/{type}/{id}/look", "look",
			"Note that one looks at a record, and learn what others did since the visit before"),
		func(ctx context.Context, in *oneIn) (*out[SinceBody], error) {
			s, err := a.app.Diary.Look(ctx, view(ctx), diary.Ref{Type: in.Type, ID: in.ID})
			return &out[SinceBody]{SinceBody{s.At, s.When, entryBodies(s.News)}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/records/{type}/{id}/stages", "stages-of", "The way of a record through its stages"),
		func(ctx context.Context, in *oneIn) (*out[WayBody], error) {
			way, err := a.app.Diary.Stages(ctx, view(ctx), diary.Ref{Type: in.Type, ID: in.ID})
			body := WayBody{way.Field, []WayStepBody{}}
			for _, s := range way.Steps {
				body.Steps = append(body.Steps, WayStepBody(s))
			}
			return &out[WayBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/log", "log", "Keep what a typed line says was done or is planned about records"),
		func(ctx context.Context, in *struct {
			Body struct {
				About []diary.Ref `json:"about" minItems:"1" maxItems:"200"`
				Text  string      `json:"text" maxLength:"1000"`
				Dry   bool        `json:"dry,omitempty" doc:"Keep nothing, and say how it is understood"`
			}
		}) (*out[LogBody], error) {
			v, body := view(ctx), LogBody{[]UnderstoodBody{}, []int64{}}
			things, err := a.app.Diary.Understand(ctx, v, in.Body.About[0], in.Body.Text)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			for _, u := range things {
				body.Things = append(body.Things, UnderstoodBody{u.Said, u.Lacks, u.Planned})
			}
			if !in.Body.Dry {
				body.IDs, err = a.app.Diary.Log(ctx, v, in.Body.About, in.Body.Text)
			}
			return &out[LogBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/home/waits", "waits", "What waits for one, and the news of what one follows"),
		func(ctx context.Context, _ *none) (*out[WaitsBody], error) {
			v := view(ctx)
			body := WaitsBody{[]WaitingBody{}, []NewsBody{}, []KeptNewsBody{}}
			for _, w := range a.app.Diary.Waits(v) {
				body.Waiting = append(body.Waiting, WaitingBody{w.Key, w.Title, w.Empty, Brief{Brief: w.Brief}})
			}
			news, err := a.app.Diary.News(ctx, v)
			for _, n := range news {
				body.News = append(body.News, NewsBody{n.Type, n.ID, n.Name, entryBodies(n.Entries)})
			}
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			kept, err := a.app.Boards.KeptNews(ctx, v)
			for _, n := range kept {
				k := KeptNewsBody{fmt.Sprintf("%s/%d", n.Kind, n.ID), n.Title, []KeptChangeBody{}}
				for _, c := range n.Changes {
					k.Changes = append(k.Changes, KeptChangeBody{c.At, c.Who, append([]string{}, c.Change...)})
				}
				body.Kept = append(body.Kept, k)
			}
			return &out[WaitsBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/follows/{type}/{id}", "follows", "Whether one follows a record"),
		func(ctx context.Context, in *oneIn) (*out[FollowBody], error) {
			on, err := a.app.Diary.Follows(ctx, view(ctx), diary.Ref{Type: in.Type, ID: in.ID})
			return &out[FollowBody]{FollowBody{on}}, a.fail(ctx, err)
		},
	)
	for _, kept := range []struct{ kind, path, id, what string }{
		{boards.FollowedReport, "/api/reports/{id}/follow", "follow-report", "report"},
		{boards.FollowedBoard, "/api/boards/{id}/follow", "follow-board", "dashboard"},
	} {
		huma.Register(
			g,
			op(http.MethodGet, kept.path, kept.id+"-now", "Whether one follows a "+kept.what),
			func(ctx context.Context, in *idIn) (*out[FollowBody], error) {
				on, err := a.app.Diary.Follows(ctx, view(ctx), diary.Ref{Type: kept.kind, ID: in.ID})
				return &out[FollowBody]{FollowBody{on}}, a.fail(ctx, err)
			},
		)
		huma.Register(
			g,
			op(http.MethodPut, kept.path, kept.id, "Follow a "+kept.what+", or no longer"),
			func(ctx context.Context, in *struct {
				ID   int64 `path:"id"`
				Body FollowBody
			}) (*struct{}, error) {
				return nil, a.fail(ctx, a.app.Boards.Follow(ctx, view(ctx), kept.kind, in.ID, in.Body.On))
			},
		)
	}
	huma.Register(
		g,
		op(http.MethodPut, "/api/follows/{type}/{id}", "follow", "Follow a record, or no longer"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			ID   int64  `path:"id"`
			Body FollowBody
		}) (*struct{}, error) {
			ref := diary.Ref{Type: in.Type, ID: in.ID}
			return nil, a.fail(ctx, a.app.Diary.Follow(ctx, view(ctx), ref, in.Body.On))
		},
	)
}
