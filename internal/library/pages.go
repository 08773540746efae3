package library

import (
	"context"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/answers"
)

// LinkTo is the link by which a report's records belong to a record of a type, or "".
func LinkTo(v *answers.View, b *brief.Brief, typ string) string {
	if b.Start == "" {
		return ""
	}
	t := v.Snap.Schema.Type(b.Start)
	if t == nil {
		return ""
	}
	for _, f := range t.Fields {
		if f.Kind == schema.Link && f.To == typ && f.Worked == nil && f.Key != "created_by" && f.Key != "changed_by" {
			return f.Key
		}
	}
	return ""
}

// PagesOf lists the record types on whose pages a report could be, and whether it does.
func (lib *Library) PagesOf(ctx context.Context, v *answers.View, r Report) (map[string]bool, error) {
	on := map[string]bool{}
	for _, t := range v.Snap.Schema.Types {
		if LinkTo(v, r.Brief.Brief(), t.Key) == "" {
			continue
		}
		panels, err := lib.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
		if err != nil {
			return nil, err
		}
		on[t.Key] = false
		for _, p := range panels {
			on[t.Key] = on[t.Key] || p.Report == r.ID
		}
	}
	return on, nil
}
