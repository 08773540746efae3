package httpapi

import (
	"context"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/internal/bringin"
	"uzzel/internal/fault"
	"uzzel/internal/lists"
	"uzzel/internal/records"
)

// ListsBody are the lists of a record type.
type ListsBody struct {
	Lists  []ReportBody `json:"lists"`
	Choice lists.Choice `json:"choice" doc:"How one has them before one"`
}

// ManyBody is what a change of many records did, or would do.
type ManyBody struct {
	Changed []ChangedBody `json:"changed" doc:"What it takes to take it back"`
	Records int           `json:"records" doc:"How many records are changed"`
	Same    int           `json:"same" doc:"How many have the values already"`
	Left    int           `json:"left" doc:"How many cannot have them"`
	Why     []RefusedBody `json:"why" doc:"Some of those, and why"`
}

// ChangedBody is a field that was changed.
type ChangedBody struct {
	ID    int64  `json:"id"`
	Field string `json:"field"`
	From  string `json:"from"`
	To    string `json:"to"`
}

// RefusedBody is a record that is left as it is.
type RefusedBody struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
	Why  string `json:"why"`
}

// PastedBody is what is pasted into a record.
type PastedBody struct {
	ID     int64             `json:"id"`
	Values map[string]string `json:"values" doc:"By the key of the field, as it was copied elsewhere"`
}

// whys is how many records that are left are named.
const whys = 20

// WhichBody names records: by number, or those that a list shows.
type WhichBody struct {
	IDs   []int64 `json:"ids,omitempty" maxItems:"10000"`
	Brief *Brief  `json:"brief,omitempty" doc:"A list, all of whose records are meant"`
	But   []int64 `json:"but,omitempty" maxItems:"10000" doc:"Of those, the ones that are not"`
}

// WorkIn names a piece of work, so that one can ask how far it is while it goes on.
type WorkIn struct {
	Work string `header:"Work" maxLength:"64" doc:"What the work is called by who asks how far it is"`
}

// WorkBody is how far a piece of work is.
type WorkBody struct {
	Done int `json:"done"`
	Of   int `json:"of" doc:"0 where that is not known yet"`
}

func (a *api) underWay(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/work/{name}", "work", "How far a piece of one's own work is that goes on"),
		func(ctx context.Context, in *struct {
			Name string `path:"name" maxLength:"64"`
		}) (*out[WorkBody], error) {
			s, ok := a.works.Of(who(ctx).ID, in.Name)
			if !ok {
				return nil, a.fail(ctx, fault.New(fault.NotFound, "", "No such work goes on."))
			}
			return &out[WorkBody]{WorkBody(s)}, nil
		},
	)
}

// which are the records that a request names, each once.
func (a *api) which(ctx context.Context, typ string, w WhichBody) ([]int64, error) {
	if w.Brief == nil {
		return w.IDs, nil
	}
	b, err := a.asked(ctx, w.Brief)
	if err != nil {
		return nil, err
	}
	if b.Start != typ {
		return nil, fault.New(fault.Invalid, "/brief/start", "This list is of other records.")
	}
	// With its groups and summaries, as these decide which records are left out for want of an exchange rate.
	alone := brief.Brief{
		Version: b.Version, Part: b.Part, Order: b.Order, Limit: b.Limit, Groups: b.Groups, Money: b.Money,
		Columns: []brief.Column{{Field: "id"}},
	}
	list, err := view(ctx).List(ctx, &alone)
	if err != nil {
		return nil, err
	}
	if list.Len() > records.MostMany {
		return nil, fault.New(
			fault.Invalid, "", "These are %d records. At most %d are changed at a time: narrow the list.",
			list.Len(), records.MostMany)
	}
	page, err := list.Page(ctx, 0, list.Len())
	if err != nil {
		return nil, err
	}
	seen := map[int64]bool{}
	for _, id := range w.But {
		seen[id] = true
	}
	var ids []int64
	for _, row := range page.IDs {
		id, err := strconv.ParseInt(row, 10, 64)
		if err == nil && !seen[id] {
			seen[id] = true
			ids = append(ids, id)
		}
	}
	return ids, nil
}

func (a *api) lists(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/lists/{type}", "lists", "The lists of a record type, and how one has them before one"),
		func(ctx context.Context, in *typeIn) (*out[ListsBody], error) {
			v := view(ctx)
			list, choice, err := a.app.Lists.Of(ctx, v, in.Type)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := ListsBody{[]ReportBody{}, choice}
			for _, r := range list {
				body.Lists = append(body.Lists, reportBody(v, r))
			}
			return &out[ListsBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/lists/{type}/mine", "choose-list", "Keep how one has the lists of a record type before one"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body lists.Choice
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Lists.Choose(ctx, view(ctx), in.Type, in.Body))
		},
	)
	for method, on := range map[string]bool{http.MethodPut: true, http.MethodDelete: false} {
		name, says := "make-list", "Have a report be a list that is worked in"
		if !on {
			name, says = "unmake-list", "Have a report be no list any more"
		}
		huma.Register(
			g,
			op(method, "/api/reports/{id}/list", name, says),
			func(ctx context.Context, in *idIn) (*struct{}, error) {
				return nil, a.fail(ctx, a.app.Lists.Set(ctx, view(ctx), in.ID, on))
			},
		)
	}
	huma.Register(
		g,
		op(
			http.MethodGet, "/api/lists/{type}/search", "search-list",
			"The condition that the words of a text are in a record's texts; none for no words",
		),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Text string `query:"text" maxLength:"400"`
		}) (*out[*brief.Tree], error) {
			s := view(ctx).Snap.Schema
			t := s.Type(in.Type)
			if t == nil {
				return nil, a.fail(ctx, fault.New(fault.NotFound, "", "There is no record type “%s”.", in.Type))
			}
			return &out[*brief.Tree]{brief.Holding(s, t, in.Text)}, nil
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost, "/api/records/{type}/many", "change-many",
			"Change many records to the same values; those that cannot have them are left and said",
		),
		func(ctx context.Context, in *struct {
			WorkIn
			Type string `path:"type"`
			Body struct {
				WhichBody
				Values map[string]string `json:"values"`
				Dry    bool              `json:"dry,omitempty" doc:"Change nothing, and say what would be changed"`
			}
		}) (*out[ManyBody], error) {
			v := view(ctx)
			ctx, end := a.works.Begin(ctx, v.Who.ID, in.Work)
			defer end()
			ids, err := a.which(ctx, in.Type, in.Body.WhichBody)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			done, err := a.app.Records.ChangeMany(ctx, v, in.Type, ids, in.Body.Values, in.Body.Dry)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := ManyBody{[]ChangedBody{}, len(ids) - done.Same - len(done.Left), done.Same, len(done.Left), []RefusedBody{}}
			if !in.Body.Dry {
				for _, c := range done.Done.Changed {
					body.Changed = append(body.Changed, ChangedBody(c))
				}
			}
			for _, l := range done.Left[:min(len(done.Left), whys)] {
				name := v.Snap.NameOf(in.Type, strconv.FormatInt(l.ID, 10), nil)
				body.Why = append(body.Why, RefusedBody{l.ID, name, l.Why})
			}
			return &out[ManyBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(
			http.MethodPost, "/api/records/{type}/many/back", "take-many-back",
			"Make fields what they were before many records were changed, where nobody has changed them since",
		)),
		func(ctx context.Context, in *struct {
			WorkIn
			Type string `path:"type"`
			Body struct {
				Changed []ChangedBody `json:"changed"`
			}
		}) (*out[LeftBody], error) {
			var list []records.ChangedField
			for _, c := range in.Body.Changed {
				list = append(list, records.ChangedField(c))
			}
			ctx, end := a.works.Begin(ctx, who(ctx).ID, in.Work)
			defer end()
			left, err := a.app.Records.TakeBack(ctx, view(ctx), in.Type, list)
			return &out[LeftBody]{LeftBody{left}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost, "/api/records/{type}/paste", "paste-records",
			"Set fields of records to texts as a spreadsheet shows them, all of them or none",
		),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				Rows []PastedBody `json:"rows" minItems:"1" maxItems:"1000"`
			}
		}) (*out[[]ChangedBody], error) {
			var rows []bringin.PastedRow
			for _, r := range in.Body.Rows {
				rows = append(rows, bringin.PastedRow(r))
			}
			changed, err := a.app.BringIn.Paste(ctx, view(ctx), in.Type, rows)
			list := []ChangedBody{}
			for _, c := range changed {
				list = append(list, ChangedBody(c))
			}
			return &out[[]ChangedBody]{list}, a.fail(ctx, err)
		},
	)
}
