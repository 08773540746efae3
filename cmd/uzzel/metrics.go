package main

import (
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/httpapi"
)

// measured serves what is known of the server's work in the Prometheus text form, and profiles of what it does in the
// form of pprof, on an address of their own, until end is called. where is that address. They hold counts and times,
// and nothing of any record or person.
func measured(a *app.App, cfg *httpapi.Config, addr string) (where string, end func(), err error) {
	all := prometheus.NewRegistry()
	all.MustRegister(collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	requests := prometheus.NewHistogramVec(
		prometheus.HistogramOpts{Name: "uzzel_request_seconds", Help: "Requests by route and status.",
			Buckets: []float64{.005, .02, .05, .1, .25, .5, 1, 2.5, 10, 60}},
		[]string{"route", "status"},
	)
	runs := prometheus.NewHistogramVec(
		prometheus.HistogramOpts{
			Name:    "uzzel_run_seconds",
			Help:    "Questions worked out, by outcome, with the time they waited in between.",
			Buckets: []float64{.001, .005, .02, .05, .1, .25, .5, 1, 5, 20, 60},
		},
		[]string{"outcome"},
	)
	all.MustRegister(requests, runs)
	gauge := func(name, help string, value func(answers.Load) float64) {
		all.MustRegister(
			prometheus.NewGaugeFunc(
				prometheus.GaugeOpts{Name: name, Help: help},
				func() float64 { return value(a.Answers.Load()) },
			),
		)
	}
	gauge("uzzel_runs_working", "Questions being worked out.", func(l answers.Load) float64 { return float64(l.Working) })
	gauge(
		"uzzel_runs_waiting",
		"Questions waiting for their turn.",
		func(l answers.Load) float64 { return float64(l.Waiting) },
	)
	gauge("uzzel_cache_bytes", "Memory of kept answers.", func(l answers.Load) float64 { return float64(l.CacheBytes) })
	gauge("uzzel_cache_answers", "Kept answers.", func(l answers.Load) float64 { return float64(l.CacheAnswers) })
	gauge(
		"uzzel_columns_bytes",
		"Memory of loaded columns.",
		func(l answers.Load) float64 { return float64(l.ColumnBytes) },
	)
	gauge(
		"uzzel_windows",
		"Open windows that are told of changes.",
		func(answers.Load) float64 { return float64(a.Feed.Size()) },
	)
	all.MustRegister(
		prometheus.NewCounterFunc(
			prometheus.CounterOpts{Name: "uzzel_cache_hits_total", Help: "Answers given again."},
			func() float64 { return float64(a.Answers.Load().CacheHits) },
		),
	)
	cfg.Served = func(route string, status int, took time.Duration) {
		requests.WithLabelValues(route, strconv.Itoa(status)).Observe(took.Seconds())
	}
	a.Answers.Ran = func(outcome string, took time.Duration) { runs.WithLabelValues(outcome).Observe(took.Seconds()) }

	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return "", nil, fmt.Errorf("--metrics: %w", err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(all, promhttp.HandlerOpts{}))
	mux.HandleFunc("GET /debug/pprof/", pprof.Index)
	mux.HandleFunc("GET /debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("GET /debug/pprof/trace", pprof.Trace)
	server := &http.Server{Handler: mux, ReadHeaderTimeout: 5 * time.Second}
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			cfg.Log.Error("metrics", "error", err)
		}
	}()
	return listener.Addr().String(), func() { _ = server.Close() }, nil
}
