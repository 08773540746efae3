package httpapi

import (
	"context"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/answers"
	"uzzel/internal/deliveries"
	"uzzel/internal/inbox"
	"uzzel/internal/store"
)

// DeliveryBody is something that is sent to people.
type DeliveryBody struct {
	ID      int64            `json:"id"`
	Owner   string           `json:"owner"`
	Title   string           `json:"title"`
	Kind    string           `json:"kind" enum:"report,board"`
	Item    int64            `json:"item" doc:"The report or dashboard"`
	Of      string           `json:"of" doc:"Its title; empty where it is no longer open to one"`
	Terms   deliveries.Terms `json:"terms"`
	Words   string           `json:"words" doc:"When, in words"`
	Version int              `json:"version"`
	Paused  bool             `json:"paused"`
	Why     string           `json:"why" doc:"Why it is paused, or what went wrong last"`
	Next    string           `json:"next" doc:"When it is due next, in words; empty where it goes when something happens"`
	Last    string           `json:"last" doc:"When it was sent last; empty for never"`
	Left    []int64          `json:"left" doc:"Who does not want it any more"`
}

// NewDeliveryBody is what a delivery is made of.
type NewDeliveryBody struct {
	Title   string           `json:"title,omitempty" doc:"That of what is sent where it is empty"`
	Kind    string           `json:"kind" enum:"report,board"`
	Item    int64            `json:"item"`
	Version int              `json:"version,omitempty" doc:"The one that was read; 0 for a new one"`
	Terms   deliveries.Terms `json:"terms"`
}

func (b NewDeliveryBody) row(id int64) store.Delivery {
	return store.Delivery{ID: id, Title: b.Title, Kind: b.Kind, Item: b.Item, Version: b.Version}
}

// OutMailBody is a mail in the outbox.
type OutMailBody struct {
	ID        int64  `json:"id"`
	Delivery  int64  `json:"delivery"`
	Recipient string `json:"recipient"`
	Address   string `json:"address"`
	Subject   string `json:"subject"`
	State     string `json:"state" enum:"waiting,sending,sent,told,failed,dropped,unsure"`
	Reason    string `json:"reason"`
	Tries     int    `json:"tries"`
	Made      string `json:"made"`
	Sent      string `json:"sent"`
	Due       string `json:"due" doc:"When it is tried again, where it waits"`
	Readable  bool   `json:"readable" doc:"Whether one may read it"`
}

// ComingBody is something that is sent to one.
type ComingBody struct {
	ID    int64  `json:"id"`
	Title string `json:"title"`
	From  string `json:"from"`
	Words string `json:"words"`
	Mail  bool   `json:"mail"`
	Left  bool   `json:"left"`
}

// SentBody says to how many people something was sent.
type SentBody struct {
	To int `json:"to"`
}

// GotNoLongerBody is what somebody gets no longer.
type GotNoLongerBody struct {
	Title string `json:"title"`
}

// UnreadBody is how much one has not read.
type UnreadBody struct {
	Unread int `json:"unread"`
}

// InboxBody is what one is told.
type InboxBody struct {
	Days  []InboxDayBody  `json:"days"`
	Quiet []string        `json:"quiet"`
	Kinds []InboxKindBody `json:"kinds" doc:"What one can be told of"`
}

// InboxDayBody are the lines of a day.
type InboxDayBody struct {
	Day   string          `json:"day"`
	Lines []InboxLineBody `json:"lines"`
}

// InboxLineBody is one thing that one is told.
type InboxLineBody struct {
	ID     int64  `json:"id" doc:"0 of what one follows"`
	Time   string `json:"time"`
	Kind   string `json:"kind"`
	Text   string `json:"text"`
	Link   string `json:"link"`
	Unread bool   `json:"unread"`
}

// InboxKindBody is a kind of what one is told.
type InboxKindBody struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

func deliveryBody(v *answers.View, d deliveries.Delivery) DeliveryBody {
	b := DeliveryBody{
		ID: d.ID, Owner: d.OwnerName, Title: d.Title, Kind: d.Kind, Item: d.Item, Of: d.Of, Terms: d.Terms, Words: d.Words,
		Version: d.Version, Paused: d.Paused, Why: d.Why, Last: v.At(d.Last), Left: append([]int64{}, d.Left...),
	}
	if d.Terms.When.Clocked() && !d.Paused {
		b.Next = v.At(d.Next)
	}
	return b
}

type deliveryID struct {
	ID int64 `path:"id"`
}

func (a *api) deliveries(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/deliveries", "deliveries", "What one has sent to people; everyone's, for administrators"),
		func(ctx context.Context, in *struct {
			All bool `query:"all"`
		}) (*out[[]DeliveryBody], error) {
			list, err := a.app.Sends.Of(ctx, view(ctx), in.All)
			body := []DeliveryBody{}
			for _, d := range list {
				body = append(body, deliveryBody(view(ctx), d))
			}
			return &out[[]DeliveryBody]{body}, a.fail(ctx, err)
		},
	)
	keep := func(ctx context.Context, id int64, b NewDeliveryBody) (*out[DeliveryBody], error) {
		d, err := a.app.Sends.Keep(ctx, view(ctx), b.row(id), b.Terms)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &out[DeliveryBody]{deliveryBody(view(ctx), d)}, nil
	}
	huma.Register(
		g,
		op(http.MethodPost, "/api/deliveries", "add-delivery", "Have a report or a dashboard sent to people"),
		func(ctx context.Context, in *struct{ Body NewDeliveryBody }) (*out[DeliveryBody], error) {
			return keep(ctx, 0, in.Body)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/deliveries/{id}", "change-delivery", "Change what is sent, when, or to whom"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body NewDeliveryBody
		}) (*out[DeliveryBody], error) {
			return keep(ctx, in.ID, in.Body)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/deliveries/{id}", "delete-delivery", "Have something sent no longer"),
		func(ctx context.Context, in *deliveryID) (*none, error) {
			return nil, a.fail(ctx, a.app.Sends.Delete(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/deliveries/{id}/paused", "pause-delivery", "Pause a delivery, or have it go on"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				On bool `json:"on"`
			}
		}) (*none, error) {
			return nil, a.fail(ctx, a.app.Sends.Pause(ctx, view(ctx), in.ID, in.Body.On))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/deliveries/{id}/send", "send-delivery", "Send it now, besides"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Alone bool `json:"alone,omitempty" doc:"To oneself alone"`
			}
		}) (*out[SentBody], error) {
			n, err := a.app.Sends.SendNow(ctx, view(ctx), in.ID, in.Body.Alone)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[SentBody]{SentBody{n}}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/deliveries/preview", "preview-delivery", "What a recipient would get, without sending it"),
		func(ctx context.Context, in *struct {
			Body struct {
				NewDeliveryBody
				As int64 `json:"as" doc:"Whose eyes it is seen through"`
			}
		}) (*out[PreviewMailBody], error) {
			b := in.Body
			subject, page, files, err := a.app.Sends.Preview(ctx, view(ctx), b.row(0), b.Terms, b.As)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[PreviewMailBody]{PreviewMailBody{subject, page, append([]string{}, files...)}}, nil
		},
	)
	a.outbox(g)
	a.coming(g)
	a.inbox(g)
}

// PreviewMailBody is a mail as a recipient would get it.
type PreviewMailBody struct {
	Subject string   `json:"subject"`
	Page    string   `json:"page" doc:"As HTML, with its pictures in it and nothing that is fetched"`
	Files   []string `json:"files" doc:"What goes along"`
}

func (a *api) outbox(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/outbox", "outbox", "What became of each mail of one's deliveries"),
		func(ctx context.Context, in *struct {
			Delivery int64 `query:"delivery" doc:"Of which delivery; of all of one's own where it is left out"`
		}) (*out[[]OutMailBody], error) {
			v := view(ctx)
			list, err := a.app.Sends.Outbox(ctx, v, in.Delivery)
			body := []OutMailBody{}
			for _, m := range list {
				b := OutMailBody{
					ID:        m.ID,
					Delivery:  m.Delivery,
					Recipient: v.Names()(v.Snap.Schema.Readers().Key, strconv.FormatInt(m.Recipient, 10)),
					Address:   m.Address,
					Subject:   m.Subject,
					State:     m.State,
					Reason:    m.Reason,
					Tries:     m.Tries,
					Made:      v.At(m.Made),
					Sent:      v.At(m.Sent),
					Readable: (m.Recipient == v.Who.ID || v.Who.Administers()) && m.State != store.MailDropped &&
						m.State != store.MailTold,
				}
				if m.State == store.MailWaiting {
					b.Due = v.At(m.Due)
				}
				body = append(body, b)
			}
			return &out[[]OutMailBody]{body}, a.fail(ctx, err)
		},
	)
	o := op(
		http.MethodGet,
		"/api/outbox/{id}/letter",
		"outbox-letter",
		"A mail as it went (RFC 5322): to oneself, and any for administrators",
	)
	o.Responses = map[string]*huma.Response{
		"200": {Description: "OK", Content: map[string]*huma.MediaType{"message/rfc822": {}}},
	}
	huma.Register(g, o, func(ctx context.Context, in *deliveryID) (*pictureOut, error) {
		text, err := a.app.Sends.Letter(ctx, view(ctx), in.ID)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &pictureOut{"message/rfc822", "attachment; filename=letter.eml", text}, nil
	})
	huma.Register(
		g,
		op(http.MethodPost, "/api/outbox/{id}/again", "send-again", "Send a mail again that failed, or may not have arrived"),
		func(ctx context.Context, in *deliveryID) (*none, error) {
			return nil, a.fail(ctx, a.app.Sends.Again(ctx, view(ctx), in.ID))
		},
	)
}

func (a *api) coming(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/coming", "coming", "What is sent to one"),
		func(ctx context.Context, _ *none) (*out[[]ComingBody], error) {
			list, err := a.app.Sends.Coming(ctx, view(ctx))
			body := []ComingBody{}
			for _, c := range list {
				body = append(body, ComingBody(c))
			}
			return &out[[]ComingBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/coming/{id}", "set-coming", "Get something no longer, or again"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Left bool `json:"left"`
			}
		}) (*none, error) {
			return nil, a.fail(ctx, a.app.Sends.Leave(ctx, view(ctx), in.ID, in.Body.Left))
		},
	)
}

// leaving is for whoever has a letter: it needs no signing in, and opens nothing else.
func (a *api) leaving(g huma.API) {
	huma.Register(
		g,
		op(http.MethodPost, "/api/leave", "leave-delivery", "Get something no longer, by the key of a letter"),
		func(ctx context.Context, in *struct {
			Key string `query:"key" maxLength:"200"`
		}) (*out[GotNoLongerBody], error) {
			title, err := a.app.Sends.LeaveBy(ctx, in.Key)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[GotNoLongerBody]{GotNoLongerBody{title}}, nil
		},
	)
}

func (a *api) inbox(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/inbox", "inbox", "What one is told, the latest day first"),
		func(ctx context.Context, _ *none) (*out[InboxBody], error) {
			v := view(ctx)
			days, quiet, err := a.app.Inbox.Read(ctx, v)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := InboxBody{Days: []InboxDayBody{}, Quiet: append([]string{}, quiet...)}
			for _, k := range inbox.Kinds {
				body.Kinds = append(body.Kinds, InboxKindBody(k))
			}
			for _, d := range days {
				day := InboxDayBody{Day: d.Words}
				for _, l := range d.Lines {
					day.Lines = append(day.Lines, InboxLineBody{l.ID, v.Clock(l.At), l.Kind, l.Text, l.Link, l.Unread})
				}
				body.Days = append(body.Days, day)
			}
			return &out[InboxBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/inbox/unread", "unread", "How much of it one has not read"),
		func(ctx context.Context, _ *none) (*out[UnreadBody], error) {
			n, err := a.app.Inbox.Unread(ctx, view(ctx))
			return &out[UnreadBody]{UnreadBody{n}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/inbox/read", "set-read", "Mark all that one is told as read"),
		func(ctx context.Context, in *struct {
			Body struct {
				UpTo int64 `json:"upTo" doc:"The highest number among what one has before one"`
			}
		}) (*none, error) {
			return nil, a.fail(ctx, a.app.Inbox.SetRead(ctx, view(ctx), in.Body.UpTo))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/inbox/quiet", "set-quiet", "Which kinds are not counted"),
		func(ctx context.Context, in *struct {
			Body struct {
				Quiet []string `json:"quiet" maxItems:"20"`
			}
		}) (*none, error) {
			return nil, a.fail(ctx, a.app.Inbox.SetQuiet(ctx, view(ctx), in.Body.Quiet))
		},
	)
}
