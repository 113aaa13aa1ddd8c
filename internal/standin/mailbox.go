package standin

import (
	"html/template"
	"io"
	"mime"
	"mime/quotedprintable"
	"net/http"
	"net/mail"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Mail is a letter as it came in.
type Mail struct {
	From    string
	To      []string
	Subject string
	Text    string
	At      time.Time
}

// mostMails is how many letters a mailbox keeps, the latest.
const mostMails = 200

// Mailbox is a mail server that takes what it is sent, delivers nothing, and shows what came. The zero value is ready.
type Mailbox struct {
	mu    sync.Mutex
	mails []Mail
	// Refuse is asked for every letter, where it is set: an error is the answer to whoever sent it.
	Refuse func(Mail) error
}

// Mails are the letters that came, the oldest first.
func (m *Mailbox) Mails() []Mail {
	m.mu.Lock()
	defer m.mu.Unlock()
	return append([]Mail(nil), m.mails...)
}

// Server is the mailbox's SMTP server.
func (m *Mailbox) Server() *smtp.Server {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &letters{box: m}, nil }))
	s.Domain, s.AllowInsecureAuth, s.MaxMessageBytes, s.MaxRecipients = "mailbox.example", true, 1<<20, 10
	s.ReadTimeout, s.WriteTimeout = 30*time.Second, 30*time.Second
	return s
}

// letters is one conversation with somebody who sends.
type letters struct {
	box  *Mailbox
	mail Mail
}

func (l *letters) Mail(from string, _ *smtp.MailOptions) error { l.mail.From = from; return nil }
func (l *letters) Rcpt(to string, _ *smtp.RcptOptions) error {
	l.mail.To = append(l.mail.To, to)
	return nil
}
func (l *letters) Reset()        { l.mail = Mail{} }
func (l *letters) Logout() error { return nil }

func (l *letters) Data(r io.Reader) error {
	msg, err := mail.ReadMessage(r)
	if err != nil {
		return err
	}
	body := msg.Body
	if strings.EqualFold(msg.Header.Get("Content-Transfer-Encoding"), "quoted-printable") {
		body = quotedprintable.NewReader(body)
	}
	text, err := io.ReadAll(body)
	if err != nil {
		return err
	}
	l.mail.Text, l.mail.At = string(text), time.Now()
	if l.mail.Subject, err = new(mime.WordDecoder).DecodeHeader(msg.Header.Get("Subject")); err != nil {
		l.mail.Subject = msg.Header.Get("Subject")
	}
	if l.box.Refuse != nil {
		if err := l.box.Refuse(l.mail); err != nil {
			return err
		}
	}
	l.box.mu.Lock()
	defer l.box.mu.Unlock()
	l.box.mails = append(l.box.mails, l.mail)
	if n := len(l.box.mails); n > mostMails {
		l.box.mails = l.box.mails[n-mostMails:]
	}
	return nil
}

var mailPage = template.Must(template.New("").Parse(`<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="5"><title>Stand-in mailbox</title>
<style>body{font:16px/1.5 sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;background:#F3F1EA;color:#1E2A2F}article{background:#fff;border:1px solid #D8D6CB;border-radius:12px;padding:1rem;margin:1rem 0}pre{white-space:pre-wrap;font:inherit}</style>
<h1>Stand-in mailbox</h1><p>What Fjell sent here, the latest first. Nothing is delivered to anybody.</p>
{{range .}}<article><h2>{{.Subject}}</h2><p>to {{range .To}}{{.}} {{end}}· {{.At.Format "2 January 15:04"}}</p><pre>{{.Text}}</pre></article>{{else}}<p>Nothing yet.</p>{{end}}</html>`))

// ServeHTTP shows what came.
func (m *Mailbox) ServeHTTP(w http.ResponseWriter, _ *http.Request) {
	mails := m.Mails()
	for i, j := 0, len(mails)-1; i < j; i, j = i+1, j-1 {
		mails[i], mails[j] = mails[j], mails[i]
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
	_ = mailPage.Execute(w, mails)
}
