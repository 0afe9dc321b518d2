package store

import (
	"context"
	"fmt"
	"net"
	"os"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"golang.org/x/sys/unix"
)

// How long a database may keep somebody waiting before it counts as away. A statement here takes milliseconds; the longest wait that is
// none of a fault is that for other writes of the same school.
const (
	connectTime   = 4 * time.Second
	statementTime = "6s"            // the server ends a statement by itself
	lockTime      = "5s"            // and one that waits for what somebody else writes, a little sooner, so that it can be said
	idleTime      = "30s"           // and a transaction in which nothing more is asked, such as of a process that was cut off
	silentTime    = 7 * time.Second // an answer that does not come by then does not come: more than statementTime
	atOnce        = 16              // connections of one process
)

// connect makes a pool on one database. It does not connect yet; a database that is away shows at the first use.
func connect(url string) (*sqlx.DB, error) {
	config, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	if config.ConnectTimeout == 0 || config.ConnectTimeout > connectTime {
		config.ConnectTimeout = connectTime
	}
	config.DialFunc = dial
	// What is asked outside of transactions, before a school is known, is asked as the application too.
	asApp := func(ctx context.Context, c *pgx.Conn) error {
		keepDays(c)
		_, err := c.Exec(ctx, "SET ROLE solfeggio_app")
		return err
	}
	// A connection that lay idle may have died; it is asked first, so that one lost server does not spoil the next calls.
	lively := func(_ context.Context, p stdlib.ShouldPingParams) bool { return p.IdleDuration > 50*time.Millisecond }
	db := sqlx.NewDb(stdlib.OpenDB(*config, stdlib.OptionAfterConnect(asApp), stdlib.OptionShouldPing(lively)), "pgx")
	db.SetMaxOpenConns(atOnce)
	db.SetMaxIdleConns(atOnce)
	return db, nil
}

// begin is the first statement of every transaction: whose school it is, as whom, and how long it may take. All of it ends with the
// transaction, so that connections may be shared by a pooler.
const begin = `SELECT set_config('role', 'solfeggio_app', true), set_config('solfeggio.school_id', $1, true),
	set_config('statement_timeout', '` + statementTime + `', true), set_config('idle_in_transaction_session_timeout',
	'` + idleTime + `', true), set_config('lock_timeout', '` + lockTime + `', true)`

// dial connects so that a peer which vanished without a word is noticed: by what it does not acknowledge, by probes while nothing is
// said, and, where something in between goes on acknowledging, by an answer that does not come.
func dial(ctx context.Context, network, address string) (net.Conn, error) {
	d := net.Dialer{
		KeepAliveConfig: net.KeepAliveConfig{Enable: true, Idle: 4 * time.Second, Interval: 2 * time.Second, Count: 3},
		Control: func(network, _ string, raw syscall.RawConn) error {
			if network == "unix" {
				return nil
			}
			var set error
			err := raw.Control(func(fd uintptr) {
				set = os.NewSyscallError("TCP_USER_TIMEOUT",
					unix.SetsockoptInt(int(fd), unix.IPPROTO_TCP, unix.TCP_USER_TIMEOUT, int(silentTime.Milliseconds())))
			})
			if err != nil {
				return err
			}
			return set
		},
	}
	c, err := d.DialContext(ctx, network, address)
	if err != nil {
		return nil, err
	}
	return &heardConn{Conn: c}, nil
}

// A heardConn gives up a read to which nothing comes for silentTime. The driver reads only while it waits for an answer.
type heardConn struct {
	net.Conn
	mu    sync.Mutex
	until time.Time // as the driver set it; zero for no end
}

// Read waits until the driver's own end, and no longer than silentTime.
func (c *heardConn) Read(b []byte) (int, error) {
	if err := c.listen(time.Now().Add(silentTime)); err != nil {
		return 0, err
	}
	return c.Conn.Read(b)
}

func (c *heardConn) listen(until time.Time) error {
	c.mu.Lock()
	defer c.mu.Unlock()
	if !c.until.IsZero() && c.until.Before(until) {
		until = c.until
	}
	return c.Conn.SetReadDeadline(until)
}

// SetDeadline sets the driver's own end, of reads and writes.
func (c *heardConn) SetDeadline(t time.Time) error {
	if err := c.Conn.SetWriteDeadline(t); err != nil {
		return err
	}
	return c.SetReadDeadline(t)
}

// SetReadDeadline sets the driver's own end of reads. A read under way ends with it.
func (c *heardConn) SetReadDeadline(t time.Time) error {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.until = t
	return c.Conn.SetReadDeadline(t)
}
