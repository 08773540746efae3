package shape

import (
	"context"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Unused refuses settings with which reports would not be right that are right as things are, with some of their titles.
func Unused(ctx context.Context, s *store.Store, v *answers.View, set schema.Settings) error {
	used, err := usedBy(ctx, s, v, set)
	if err != nil || len(used) == 0 {
		return err
	}
	return unused("What it brought", used)
}

// usedBy lists the titles of the reports that are right as things are, and not with other settings.
func usedBy(ctx context.Context, s *store.Store, v *answers.View, set schema.Settings) ([]string, error) {
	bare, err := schema.New(set)
	if err != nil {
		return nil, err
	}
	titles := []string{}
	err = s.EachBrief(ctx, func(title, text string) {
		b, err := brief.Decode([]byte(text))
		if err != nil {
			return
		}
		if _, err := brief.Bind(b, v.Snap.Schema); err != nil {
			return
		}
		if _, err := brief.Bind(b, bare); err != nil {
			titles = append(titles, title)
		}
	})
	// Reports that others keep to themselves are nobody's but administrators' to know.
	if n := len(titles); n > 0 && !v.Who.Administers() {
		titles = []string{some(n, "report")}
	}
	for _, t := range bare.Types {
		for i := range t.Fields {
			f := &t.Fields[i]
			if f.Formula() != "" && brief.CheckFormula(bare, t.Key, f.Formula()) != nil {
				titles = append(titles, "the formula of "+f.Label)
			}
		}
	}
	return titles, err
}

// unused refuses what reports use, with some of their titles.
func unused(label string, used []string) error {
	if len(used) == 0 {
		return nil
	}
	more := ""
	if len(used) > 5 {
		used, more = used[:5], " and others"
	}
	return fault.New(
		fault.Invalid,
		"",
		"“%s” is used by %s%s. Take it out of them first.",
		label,
		"“"+strings.Join(used, "”, “")+"”",
		more,
	)
}
