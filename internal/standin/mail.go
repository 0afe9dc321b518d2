package standin

import (
	"fmt"
	"io"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Mail is a simulated mail server: it takes every letter and shows it. Nothing leaves it.
type Mail struct {
	Shows io.Writer
	Full  bool // it takes none, as one whose disk is full

	mu sync.Mutex
}

const (
	mostLetter = 1 << 20 // bytes
	mailWaits  = 30 * time.Second
)

// Server speaks SMTP; Serve and Close are the caller's.
func (m *Mail) Server() *smtp.Server {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &mailSession{mail: m}, nil }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients, s.ReadTimeout, s.WriteTimeout = "simulated.invalid", mostLetter, 50, mailWaits, mailWaits
	return s
}

type mailSession struct {
	mail *Mail
	from string
	to   []string
}

// Reset forgets the letter that was begun.
func (s *mailSession) Reset() { s.from, s.to = "", nil }

// Logout ends a session.
func (s *mailSession) Logout() error { return nil }

// Mail begins a letter.
func (s *mailSession) Mail(from string, _ *smtp.MailOptions) error {
	if s.mail.Full {
		return &smtp.SMTPError{Code: 452, EnhancedCode: smtp.EnhancedCode{4, 3, 1}, Message: "the simulated disk is full"}
	}
	s.from = from
	return nil
}

// Rcpt adds somebody whom it is for.
func (s *mailSession) Rcpt(to string, _ *smtp.RcptOptions) error {
	s.to = append(s.to, to)
	return nil
}

// Data shows the letter.
func (s *mailSession) Data(r io.Reader) error {
	text, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	s.mail.mu.Lock()
	defer s.mail.mu.Unlock()
	_, err = fmt.Fprintf(s.mail.Shows, "--- simulated mail from %s to %v ---\n%s\n", s.from, s.to, text)
	return err
}
