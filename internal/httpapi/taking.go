package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/exchange"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
)

type exportIn struct {
	Body struct {
		Brief  Brief  `json:"brief"`
		Report int64  `json:"report,omitempty" doc:"The saved report that the brief is a reading of"`
		View   string `json:"view" doc:"records, summary, outline or totals"`
		Format string `json:"format,omitempty" enum:"csv,xlsx,json" doc:"csv by default"`
		Names  string `json:"names,omitempty" enum:"shown,keys" doc:"What stands in headers: what is shown, which is the default, or fields and keys"`
		Chart  []byte `json:"chart,omitempty" maxLength:"6000000" doc:"A picture of the chart for a workbook, as PNG"`
	}
}

type exportOut struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Defused     string `header:"X-Defused" doc:"How many cells a spreadsheet would have taken for formulas"`
	Body        func(huma.Context)
}

func (a *api) taking(g huma.API) {
	o := lenient(op(http.MethodPost, "/api/export", "export", "A brief's result as a file"))
	o.Responses = fileResponses()
	huma.Register(g, o, a.export)
}

func fileResponses() map[string]*huma.Response {
	return map[string]*huma.Response{
		"200": {Description: "OK", Content: map[string]*huma.MediaType{"text/csv": {}, "application/json": {},
			"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": {}}},
	}
}

// MaxFile is the largest file that is taken out, in bytes.
const MaxFile = 1 << 30

func (a *api) export(ctx context.Context, in *exportIn) (*exportOut, error) {
	if err := in.Body.Brief.checked(); err != nil {
		return nil, a.fail(ctx, err)
	}
	t, err := a.app.Library.Export(
		ctx,
		view(ctx),
		max(in.Body.Report, in.Body.Brief.Reading),
		in.Body.Brief.Brief,
		in.Body.View,
		in.Body.Names == "keys" || (in.Body.Names == "" && in.Body.Format == "json"),
	)
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	return a.file(ctx, t, in.Body.View, in.Body.Format, in.Body.Chart)
}

// file is what is taken out as a file, csv where no format is named. It is written to the disk first, line by line: so
// none of it is held in memory, and what cannot be worked out is refused in words.
func (a *api) file(
	ctx context.Context,
	t *answers.Extract,
	shown, format string,
	chart []byte,
) (_ *exportOut, err error) {
	file, err := os.CreateTemp("", "uzzel-export-")
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	gone := func() { _, _ = file.Close(), os.Remove(file.Name()) }
	defer func() {
		if err != nil {
			gone()
		}
	}()
	out := &exportOut{Defused: "0"}
	w := &bounded{w: file, left: MaxFile}
	ending := format
	switch ending {
	case "xlsx":
		out.ContentType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
		err = exchange.WriteXLSX(
			w,
			t.Sheet,
			exchange.Workbook{
				About:    t.About,
				Currency: brief.Currency(view(ctx).Snap.Schema.Settings.Currency),
				Form:     view(ctx).Figures.Form,
				Chart:    chart,
			},
		)
	case "json":
		out.ContentType = "application/json"
		err = writeWhole(w, t, shown)
	default:
		ending = "csv"
		out.ContentType = "text/csv; charset=utf-8"
		var defused int
		defused, err = exchange.WriteCSV(w, t.Table(), true)
		out.Defused = strconv.Itoa(defused)
	}
	if errors.Is(err, exchange.ErrSheetFull) || errors.Is(err, errFileLarge) {
		err = &fault.Error{Reason: fault.TooLarge, Message: "This is too large for a file: " + err.Error() + "."}
	}
	if errors.Is(err, exchange.ErrNoPicture) {
		err = &fault.Error{
			Reason:  fault.Invalid,
			Pointer: "/chart",
			Message: "What was sent as a picture of the chart is no PNG.",
		}
	}
	if err == nil {
		_, err = file.Seek(0, io.SeekStart)
	}
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	out.Disposition = mime.FormatMediaType(
		"attachment",
		map[string]string{"filename": fileName(t.Title, t.View, brief.DayWords(view(ctx).Day)) + "." + ending},
	)
	out.Body = func(c huma.Context) {
		defer gone()
		if _, err := io.Copy(c.BodyWriter(), file); err != nil {
			a.cfg.Log.InfoContext(ctx, "an export was not taken", "error", err)
		}
	}
	return out, nil
}

var errFileLarge = fmt.Errorf("a file has %d MB at most; narrow the report first", MaxFile>>20)

// bounded writes so many bytes at most.
type bounded struct {
	w    io.Writer
	left int64
}

func (b *bounded) Write(p []byte) (int, error) {
	if b.left -= int64(len(p)); b.left < 0 {
		return 0, errFileLarge
	}
	return b.w.Write(p)
}

// writeWhole writes the brief, what is said about it, and the table.
func writeWhole(w io.Writer, t *answers.Extract, view string) error {
	type line struct {
		Name string `json:"name"`
		Text string `json:"text"`
	}
	about := []line{}
	for _, l := range t.About {
		about = append(about, line{l[0], l[1]})
	}
	head, err := json.MarshalIndent(map[string]any{"title": t.Title, "about": about, "brief": t.Brief}, "", " ")
	if err != nil {
		return err
	}
	if _, err := fmt.Fprintf(w, "%s,\n %q: ", strings.TrimSuffix(string(head), "\n}"), view); err != nil {
		return err
	}
	if err := exchange.WriteJSON(w, t.Table()); err != nil {
		return err
	}
	_, err = io.WriteString(w, "}\n")
	return err
}

// fileName says what is in a file and of which day, in a name that every file system takes.
func fileName(title, view, day string) string {
	return naming.File(title) + " - " + view + " - " + day
}
