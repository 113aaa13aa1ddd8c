package exchange

import (
	"bytes"
	"context"
	"errors"
	"io"
)

// stream is a file's bytes for whoever still waits for what comes of them: it asks at every piece of the file, so that a
// reader stops when its request has ended.
type stream struct {
	ctx context.Context
	r   *bytes.Reader
}

// pieceBytes is how much of a file is read between two questions.
const pieceBytes = 16 << 10

func open(ctx context.Context, raw []byte) *stream { return &stream{ctx, bytes.NewReader(raw)} }

func (s *stream) Read(p []byte) (int, error) {
	if err := s.ctx.Err(); err != nil {
		return 0, err
	}
	return s.r.Read(p[:min(len(p), pieceBytes)])
}

// readAll reads what is unpacked, as long as somebody waits for it.
func readAll(ctx context.Context, r io.Reader) ([]byte, error) {
	var out bytes.Buffer
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if _, err := io.CopyN(&out, r, 16*pieceBytes); errors.Is(err, io.EOF) {
			return out.Bytes(), nil
		} else if err != nil {
			return nil, err
		}
	}
}

// waited puts the end of a request before what a reader made of a file that it could not read on.
func waited[T any](ctx context.Context, v T, err error) (T, error) {
	if gone := ctx.Err(); gone != nil && err != nil {
		var none T
		return none, gone
	}
	return v, err
}
