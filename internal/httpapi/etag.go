package httpapi

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"net/http"
	"os"
	"runtime/debug"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
)

// build names this program, so that a page made by another is not taken for one of ours. Processes of one program
// agree.
var build = sync.OnceValue(func() string {
	name := Version
	if info, ok := debug.ReadBuildInfo(); ok {
		for _, s := range info.Settings {
			if s.Key == "vcs.revision" || s.Key == "vcs.modified" {
				name += " " + s.Value
			}
		}
	}
	if path, err := os.Executable(); err == nil {
		if about, err := os.Stat(path); err == nil {
			name += " " + about.ModTime().UTC().String()
		}
	}
	return name
})

// weakTag is the tag of an answer that is told by some parts: weak, since the answer may be sent compressed or not.
func weakTag(parts ...string) string {
	sum := sha256.Sum256([]byte(strings.Join(parts, "\n")))
	return `W/"` + base64.RawURLEncoding.EncodeToString(sum[:15]) + `"`
}

// matches tells whether a browser has the answer of a tag already.
func matches(ifNoneMatch, tag string) bool {
	for _, have := range strings.Split(ifNoneMatch, ",") {
		if have = strings.TrimSpace(have); have == tag || have == "*" {
			return true
		}
	}
	return false
}

// tagged gives the answers below a farm that have no tag yet one of what they say.
func tagged(c *gin.Context) {
	if c.Request.Method != http.MethodGet || !strings.HasPrefix(c.Request.URL.Path, "/api/farms/") {
		return
	}
	held := &heldAnswer{ResponseWriter: c.Writer}
	c.Writer = held
	c.Next()
	c.Writer = held.ResponseWriter
	h := c.Writer.Header()
	if held.Status() != http.StatusOK {
		h.Del("ETag")
		if held.Status() == http.StatusNotModified {
			h.Set("ETag", held.tag)
		}
	} else {
		if h.Get("ETag") == "" {
			h.Set("ETag", weakTag(held.body.String()))
		}
		if matches(c.GetHeader("If-None-Match"), h.Get("ETag")) {
			h.Del("Content-Type")
			c.Writer.WriteHeader(http.StatusNotModified)
			c.Writer.WriteHeaderNow()
			return
		}
	}
	if held.body.Len() == 0 {
		c.Writer.WriteHeaderNow()
		return
	}
	_, _ = c.Writer.Write(held.body.Bytes())
}

// heldAnswer keeps an answer back until all of it is there.
type heldAnswer struct {
	gin.ResponseWriter
	body bytes.Buffer
	tag  string
}

func (h *heldAnswer) Write(raw []byte) (int, error)        { return h.body.Write(raw) }
func (h *heldAnswer) WriteString(text string) (int, error) { return h.body.WriteString(text) }
func (h *heldAnswer) Written() bool                        { return h.ResponseWriter.Written() }
func (h *heldAnswer) WriteHeaderNow()                      {}
func (h *heldAnswer) WriteHeader(status int) {
	if status == http.StatusNotModified {
		h.tag = h.Header().Get("ETag")
	}
	h.ResponseWriter.WriteHeader(status)
}
