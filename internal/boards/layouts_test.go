package boards

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/store"
)

func TestBoardChangeInWords(t *testing.T) {
	titles := map[int64]string{1: "Stages", 2: "Won"}
	at := func(report int64, x int, options string) store.Panel {
		return store.Panel{Report: report, X: x, W: 4, H: 5, Options: options}
	}
	version := func(title, filters string, panels ...store.Panel) *store.BoardVersion {
		return &store.BoardVersion{Title: title, Layout: store.Layout{Filters: filters, Panels: panels}}
	}
	one := version("Monday", "", at(1, 0, ""))
	for name, c := range map[string]struct {
		now  *store.BoardVersion
		want []string
	}{
		"placed":         {version("Monday", "", at(1, 0, ""), at(2, 4, ""), at(2, 8, "")), []string{"“Won” (2 times) placed"}},
		"exchanged":      {version("Monday", "", at(2, 0, "")), []string{"“Won” placed", "“Stages” taken off"}},
		"closed":         {version("Monday", "", at(1, 0, ""), at(9, 4, "")), []string{"a report that is not open to you placed"}},
		"moved":          {version("Monday", "", at(1, 3, "")), []string{"panels moved or sized anew"}},
		"said":           {version("Monday", "", at(1, 0, `{"heading":"Ours"}`)), []string{"what panels say or show"}},
		"moved, said":    {version("Monday", "", at(1, 3, `{"kind":"bar"}`)), []string{"panels moved or sized anew", "what panels say or show"}},
		"narrowed":       {version("Monday", `{"whose":"team"}`, at(1, 0, "")), []string{"what its panels are narrowed to"}},
		"named":          {version("Tuesday", "", at(1, 0, "")), []string{"named “Tuesday”, was “Monday”"}},
		"given or moved": {version("Monday", "", at(1, 0, "")), []string{"where it is kept, or who owns it"}},
	} {
		require.Equal(t, c.want, boardChange(one, c.now, titles), name)
	}
}
