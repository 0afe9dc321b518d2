package formats

import (
	"bytes"
	"io"
	"mime"
	"mime/quotedprintable"
	"net/mail"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The standard library's reader of RFC 5322 reads back what was written, whatever was typed.
func TestMessagesAreReadBack(t *testing.T) {
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	for _, m := range []Message{
		{"1", "r.marchetti@quillhaven.example", "Please bring VN-01 back", "Dear Ode,\n\nbring it.\n", at},
		{
			"2", "Ode Márquez <ode@quillhaven.example>", "Über die Reparatur: 5 € = viel",
			"Zeile eins\nZeile zwei = lang " + string(bytes.Repeat([]byte("x"), 200)), at,
		},
		{"3", "the grandmother, 555 0199", "Two\r\nBcc: everybody@quillhaven.example", "One\r\ntwo", at},
		{"4", "", "", "", at},
	} {
		var file bytes.Buffer
		require.NoError(t, WriteMessage(&file, m))
		read, err := mail.ReadMessage(&file)
		require.NoError(t, err, m.ID)
		subject, err := new(mime.WordDecoder).DecodeHeader(read.Header.Get("Subject"))
		require.NoError(t, err)
		assert.Equal(t, oneLine(m.Subject), subject)
		assert.Empty(t, read.Header.Get("Bcc"), "a subject of two lines makes no header of its own")
		when, err := read.Header.Date()
		require.NoError(t, err)
		assert.True(t, at.Equal(when))
		body, err := io.ReadAll(quotedprintable.NewReader(read.Body))
		require.NoError(t, err)
		assert.Equal(
			t,
			string(bytes.ReplaceAll(bytes.ReplaceAll([]byte(m.Body), []byte("\r\n"), []byte("\n")), []byte("\n"), []byte("\r\n")))+"\r\n",
			string(body),
		)
		list, err := mail.ParseAddressList(read.Header.Get("To"))
		if m.ID == "1" || m.ID == "2" {
			require.NoError(t, err)
			assert.Contains(t, list[0].Address, "@quillhaven.example")
		} else {
			assert.Empty(t, list, "who has no address gets nothing by mistake: %v", err)
		}
	}
}
