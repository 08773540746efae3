// Package packed keeps values small: gzip over JSON, bounded both ways.
package packed

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"errors"
	"io"
)

// ErrLarge says that a value is larger than it may be.
var ErrLarge = errors.New("it is too large")

// Pack packs a value whose JSON has so many bytes at most.
func Pack(v any, most int) ([]byte, error) {
	text, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	if len(text) > most {
		return nil, ErrLarge
	}
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	if _, err := w.Write(text); err != nil {
		return nil, err
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// Unpack reads what Pack packed into to. What unpacks to more bytes than it may have is ErrLarge.
func Unpack(data []byte, most int, to any) error {
	r, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return err
	}
	text, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err != nil {
		return err
	}
	if len(text) > most {
		return ErrLarge
	}
	return json.Unmarshal(text, to)
}
