package storetest

import (
	"bytes"
	"io"
	"net"
	"regexp"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Wire lies between a program and the database, and can be cut in the moment that hurts most: when the database has been
// told to commit and has done so, and before it could say so.
type Wire struct {
	commits atomic.Int64 // how many more commits lose their answer
	Lost    atomic.Int64 // how many have
}

var tcp = regexp.MustCompile(`@tcp\(([^)]+)\)`)

// NewWire puts a wire before the database of a data source name, and returns the name of the wire's other end.
func NewWire(t testing.TB, name string) (*Wire, string) {
	t.Helper()
	far := tcp.FindStringSubmatch(name)
	require.NotNil(t, far, "a wire needs a database that is reached over TCP")
	ear, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = ear.Close() })
	w := &Wire{}
	go func() {
		for {
			near, err := ear.Accept()
			if err != nil {
				return
			}
			go w.carry(near, far[1])
		}
	}()
	return w, tcp.ReplaceAllLiteralString(name, "@tcp("+ear.Addr().String()+")")
}

// LoseCommits lets the answers of the next n commits be lost.
func (w *Wire) LoseCommits(n int64) { w.commits.Store(n) }

// commit is how the driver asks for one: a query packet of seven bytes.
var commit = []byte("\x07\x00\x00\x00\x03COMMIT")

func (w *Wire) carry(near net.Conn, address string) {
	defer func() { _ = near.Close() }()
	far, err := net.Dial("tcp", address)
	if err != nil {
		return
	}
	defer func() { _ = far.Close() }()
	var cut atomic.Bool
	go func() { // what the database says
		buffer := make([]byte, 64<<10)
		for {
			n, err := far.Read(buffer)
			if err != nil || cut.Load() {
				_ = near.Close()
				return
			}
			if _, err := near.Write(buffer[:n]); err != nil {
				return
			}
		}
	}()
	buffer := make([]byte, 64<<10)
	for {
		n, err := near.Read(buffer)
		if err != nil {
			return
		}
		if bytes.Equal(buffer[:n], commit) && w.commits.Load() > 0 {
			w.commits.Add(-1)
			w.Lost.Add(1)
			cut.Store(true)
			_, _ = far.Write(buffer[:n])
			_ = far.SetReadDeadline(time.Now().Add(5 * time.Second))
			_, _ = io.Copy(io.Discard, io.LimitReader(far, 1)) // it has been done
			return
		}
		if _, err := far.Write(buffer[:n]); err != nil {
			return
		}
	}
}
