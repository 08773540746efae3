package exchange

import (
	"bufio"
	"bytes"
	"context"
	"strings"
	"testing"
	"time"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// FuzzReadCSV: whatever a file holds, it is read or refused with a place, and never breaks the reader.
func FuzzReadCSV(f *testing.F) {
	for _, s := range []string{"id,name,value,expected_close,customer\n1,Gangway,12.50,2026-05-01,3\n", "id,name\r\n1,\"a\nb\"\r\n", "id\n007\nx\n", "\xef\xbb\xbfid,created\n1,2026-03-29T01:30:00+01:00\n", "id,likelihood\n1,1e9\n"} {
		f.Add([]byte(s))
	}
	s, err := schema.New(schema.Settings{})
	if err != nil {
		f.Fatal(err)
	}
	cal := period.New(time.UTC, time.Monday, 1)
	f.Fuzz(func(t *testing.T, data []byte) {
		b := column.NewBuilder(s.Type("deals"), cal)
		err := readCSV(context.Background(), bufio.NewReader(bytes.NewReader(data)), b)
		if err != nil && !strings.HasPrefix(err.Error(), ":") {
			t.Fatalf("refused without a place: %v", err)
		}
		if lines := bytes.Count(data, []byte("\n")) + 1; b.Len() > lines {
			t.Fatalf("%d records from %d lines", b.Len(), lines)
		}
	})
}
