package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"mime"
	"net/http"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/desk"
	"uzzel/internal/exchange"
)

type exportIn struct {
	Body struct {
		Brief  Brief  `json:"brief"`
		Report int64  `json:"report,omitempty" doc:"The saved report that the brief is a reading of"`
		View   string `json:"view" doc:"records, summary, outline or totals"`
		Format string `json:"format,omitempty" enum:"csv,xlsx,json" doc:"csv by default"`
	}
}

type exportOut struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Defused     string `header:"X-Defused" doc:"How many cells a spreadsheet would have taken for formulas"`
	Body        []byte
}

func (a *api) taking(g huma.API) {
	huma.Register(g, lenient(op(http.MethodPost, "/api/export", "export", "A brief's result as a file")), a.export)
}

func (a *api) export(ctx context.Context, in *exportIn) (*exportOut, error) {
	if err := a.check(&in.Body.Brief); err != nil {
		return nil, a.fail(ctx, err)
	}
	t, err := a.desk.Export(ctx, who(ctx), in.Body.Report, in.Body.Brief.Brief, in.Body.View)
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	var buf bytes.Buffer
	out := &exportOut{Defused: "0"}
	ending := in.Body.Format
	switch ending {
	case "xlsx":
		out.ContentType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
		err = exchange.WriteXLSX(&buf, t.Lines, t.About)
	case "json":
		out.ContentType = "application/json"
		err = writeWhole(&buf, t, &in.Body.Brief, in.Body.View)
	default:
		ending = "csv"
		out.ContentType = "text/csv; charset=utf-8"
		var defused int
		defused, err = exchange.WriteCSV(&buf, t.Lines, true)
		out.Defused = strconv.Itoa(defused)
	}
	out.Disposition = mime.FormatMediaType("attachment", map[string]string{"filename": fileName(t.Title) + "." + ending})
	out.Body = buf.Bytes()
	return out, a.fail(ctx, err)
}

// writeWhole writes the brief, what is said about it, and the table.
func writeWhole(buf *bytes.Buffer, t *desk.Extract, b *Brief, view string) error {
	var table bytes.Buffer
	if err := exchange.WriteJSON(&table, t.Lines); err != nil {
		return err
	}
	type line struct {
		Name string `json:"name"`
		Text string `json:"text"`
	}
	about := []line{}
	for _, l := range t.About {
		about = append(about, line{l[0], l[1]})
	}
	enc := json.NewEncoder(buf)
	enc.SetIndent("", " ")
	return enc.Encode(map[string]any{"title": t.Title, "about": about, "brief": b, view: json.RawMessage(table.Bytes())})
}

// fileName is a title that every file system takes.
func fileName(title string) string {
	clean := strings.Map(func(r rune) rune {
		if r < ' ' || strings.ContainsRune(`\\/:*?"<>|`, r) {
			return ' '
		}
		return r
	}, title)
	clean = strings.Join(strings.Fields(clean), " ")
	if clean == "" {
		return "report"
	}
	return clean
}
