package httpapi

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"

	"uzzel/core/brief"
	"uzzel/internal/fault"
	"uzzel/internal/memo"
	"uzzel/internal/records"
)

// ErrorBody is an error as RFC 9457 has it, with a pointer to each member at fault.
type ErrorBody struct {
	Type   string          `json:"type,omitempty"`
	Title  string          `json:"title"`
	Status int             `json:"status"`
	Detail string          `json:"detail"`
	Errors []brief.Problem `json:"errors,omitempty"`
	// Now is a record as it is now, where it was changed since it was read.
	Now *ValuesBody `json:"now,omitempty"`
}

func (p *ErrorBody) Error() string { return p.Detail }

// GetStatus is the HTTP status.
func (p *ErrorBody) GetStatus() int { return p.Status }

// ContentType is that of RFC 9457.
func (p *ErrorBody) ContentType(string) string { return "application/problem+json" }

// newProblem makes the problems of requests that do not fit the contract.
func newProblem(status int, msg string, errs ...error) huma.StatusError {
	p := &ErrorBody{Title: http.StatusText(status), Status: status, Detail: msg}
	for _, e := range errs {
		var d *huma.ErrorDetail
		if errors.As(e, &d) {
			at := "/" + strings.NewReplacer(
				".",
				"/",
				"[",
				"/",
				"]",
				"",
			).Replace(
				strings.TrimPrefix(strings.TrimPrefix(d.Location, "body"), "."),
			)
			p.Errors = append(p.Errors, brief.Problem{Pointer: at, Message: d.Message})
		}
	}
	return p
}

var statusOf = map[fault.Reason]int{
	fault.NotFound:    http.StatusNotFound,
	fault.Forbidden:   http.StatusForbidden,
	fault.Invalid:     http.StatusUnprocessableEntity,
	fault.Taken:       http.StatusConflict,
	fault.Stale:       http.StatusConflict,
	fault.SignedOut:   http.StatusUnauthorized,
	fault.TooLarge:    http.StatusUnprocessableEntity,
	fault.TooMany:     http.StatusTooManyRequests,
	fault.Busy:        http.StatusServiceUnavailable,
	fault.Unavailable: http.StatusServiceUnavailable,
}

// titles of problems whose status says too little.
var titles = map[fault.Reason]string{
	fault.TooLarge:    "Too large",
	fault.TooMany:     "Too many tries",
	fault.Busy:        "Very busy",
	fault.Unavailable: "The records cannot be reached",
}

// problem turns an error of a use case into what the client is told. What is not meant for people is logged, not told.
func (a *api) problem(ctx context.Context, err error) *ErrorBody {
	var bad brief.Problems
	var e *fault.Error
	err = a.app.InWords(err)
	var refused records.Refusals
	var conflict *records.Conflict
	switch {
	case errors.As(err, &refused):
		p := &ErrorBody{Title: "Not saved", Status: http.StatusUnprocessableEntity, Detail: refused.Error()}
		for _, f := range refused {
			p.Errors = append(p.Errors, brief.Problem{Pointer: f.Pointer, Message: f.Message})
		}
		return p
	case errors.As(err, &conflict):
		now := valuesBody(conflict.Now)
		return &ErrorBody{
			Title:  "Changed meanwhile",
			Status: http.StatusPreconditionFailed,
			Detail: "Someone else changed this meanwhile. Look at what they changed, then save what you want of both.",
			Now:    &now,
		}
	case errors.As(err, &bad):
		return &ErrorBody{
			Title:  "The report is not right yet",
			Status: http.StatusUnprocessableEntity,
			Detail: bad[0].Message,
			Errors: bad,
		}
	case errors.As(err, &e):
		p := &ErrorBody{
			Title:  cmp.Or(titles[e.Reason], http.StatusText(statusOf[e.Reason])),
			Status: statusOf[e.Reason],
			Detail: e.Message,
		}
		if e.Pointer != "" {
			p.Errors = []brief.Problem{{Pointer: e.Pointer, Message: e.Message}}
		}
		return p
	case errors.Is(err, context.DeadlineExceeded):
		return &ErrorBody{Title: "Too slow", Status: http.StatusGatewayTimeout, Detail: errTimeout.Error()}
	case errors.Is(err, context.Canceled):
		return &ErrorBody{Title: "Stopped", Status: 499, Detail: "The report was stopped."}
	}
	var panicked *memo.Panicked
	if errors.As(err, &panicked) {
		a.cfg.Log.ErrorContext(
			ctx,
			"panic",
			"id",
			middleware.GetReqID(ctx),
			"panic",
			fmt.Sprint(panicked.Value),
			"stack",
			string(panicked.Stack),
		)
	} else {
		a.cfg.Log.ErrorContext(ctx, "failed", "id", middleware.GetReqID(ctx), "error", err)
	}
	return &ErrorBody{
		Title:  "Something went wrong",
		Status: http.StatusInternalServerError,
		Detail: "Something went wrong here, and it was written down. Try again.",
	}
}

func writeProblem(w http.ResponseWriter, p *ErrorBody) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}
