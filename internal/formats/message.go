package formats

import (
	"fmt"
	"io"
	"mime"
	"mime/quotedprintable"
	"net/mail"
	"strings"
	"time"
)

// A Message is a notice as it would go out.
type Message struct {
	ID      string
	To      string // an address, or only a name
	Subject string
	Body    string
	At      time.Time
}

// sender stands in messages that nobody sends.
const sender = "outbox@simulated.invalid"

// WriteMessage writes an Internet message (RFC 5322, text in quoted-printable by RFC 2045). One that has no address, only a
// name, goes to nobody's: to "Name:;", the empty group of that name.
func WriteMessage(w io.Writer, m Message) error {
	to := mime.QEncoding.Encode("utf-8", oneLine(m.To)) + ":;"
	if parsed, err := mail.ParseAddress(m.To); err == nil {
		to = parsed.String()
	}
	head := []string{
		"From: Solfeggio, simulated <" + sender + ">",
		"To: " + to,
		"Subject: " + mime.QEncoding.Encode("utf-8", oneLine(m.Subject)),
		"Date: " + m.At.Format(time.RFC1123Z),
		"Message-ID: <" + m.ID + "@simulated.invalid>",
		"MIME-Version: 1.0",
		"Content-Type: text/plain; charset=utf-8",
		"Content-Transfer-Encoding: quoted-printable",
	}
	if _, err := fmt.Fprintf(w, "%s\r\n\r\n", strings.Join(head, "\r\n")); err != nil {
		return err
	}
	text := quotedprintable.NewWriter(w)
	if _, err := io.WriteString(text, lineEnds.Replace(m.Body)+"\r\n"); err != nil {
		return err
	}
	return text.Close()
}

// lineEnds makes every end of a line the one of a message.
var lineEnds = strings.NewReplacer("\r\n", "\r\n", "\n", "\r\n")

// oneLine keeps a header from becoming two.
func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
