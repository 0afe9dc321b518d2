package e2e

import (
	"io"
	"net"
	"net/url"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// A line stands between the program and its database and can be cut.
type line struct {
	t      *testing.T
	to     string
	at     string
	mu     sync.Mutex
	listen net.Listener
	ends   []net.Conn
}

// through gives the address of a database a line to cut.
func through(t *testing.T, database string) (*line, string) {
	u, err := url.Parse(database)
	require.NoError(t, err)
	l := &line{t: t, to: u.Host, at: "127.0.0.1:0"}
	l.mend()
	t.Cleanup(l.cut)
	u.Host = l.at
	return l, u.String()
}

func (l *line) mend() {
	l.t.Helper()
	listen, err := net.Listen("tcp", l.at)
	require.NoError(l.t, err)
	l.mu.Lock()
	l.listen, l.at = listen, listen.Addr().String()
	l.mu.Unlock()
	go func() {
		for {
			near, err := listen.Accept()
			if err != nil {
				return
			}
			far, err := net.Dial("tcp", l.to)
			if err != nil {
				_ = near.Close()
				continue
			}
			l.mu.Lock()
			l.ends = append(l.ends, near, far)
			l.mu.Unlock()
			go func() { _, _ = io.Copy(near, far); _ = near.Close() }()
			go func() { _, _ = io.Copy(far, near); _ = far.Close() }()
		}
	}()
}

func (l *line) cut() {
	l.mu.Lock()
	defer l.mu.Unlock()
	_ = l.listen.Close()
	for _, c := range l.ends {
		_ = c.Close()
	}
	l.ends = nil
}
