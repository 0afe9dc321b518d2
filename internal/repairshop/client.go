package repairshop

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
)

// ErrUnknown says that the shop does not know a job.
var ErrUnknown = errors.New("the shop does not know the job")

// A Client asks a shop's computer.
type Client struct {
	address string
	http    *http.Client
}

const (
	patience   = 5 * time.Second // with a shop that does not answer
	mostAnswer = 256 << 10       // bytes of an answer that are read
	mostLines  = 50
	mostCents  = 100_000_000
	mostWords  = 300
)

// NewClient makes a client of the shop at an address, such as http://127.0.0.1:8090. It follows no redirects: only that address is asked.
func NewClient(address string) *Client {
	return &Client{strings.TrimSuffix(address, "/"), &http.Client{
		Timeout:       patience,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}}
}

// Give gives the shop a job, or tells it again what is asked.
func (c *Client) Give(ctx context.Context, o Order) (Progress, error) {
	return c.ask(ctx, http.MethodPut, "/v1/jobs/"+o.ID.String(), o)
}

// News asks how far a job is.
func (c *Client) News(ctx context.Context, job uuid.UUID) (Progress, error) {
	return c.ask(ctx, http.MethodGet, "/v1/jobs/"+job.String(), nil)
}

// Decide answers a quote.
func (c *Client) Decide(ctx context.Context, job uuid.UUID, d Decision) (Progress, error) {
	return c.ask(ctx, http.MethodPost, "/v1/jobs/"+job.String()+"/decision", d)
}

// Withdraw says that the shop does not get the job, or not any more.
func (c *Client) Withdraw(ctx context.Context, job uuid.UUID) (Progress, error) {
	return c.ask(ctx, http.MethodDelete, "/v1/jobs/"+job.String(), nil)
}

// HandOver says that the instrument is at the shop.
func (c *Client) HandOver(ctx context.Context, job uuid.UUID) (Progress, error) {
	return c.ask(ctx, http.MethodPost, "/v1/jobs/"+job.String()+"/handed-over", struct{}{})
}

// Fetch says that it was fetched.
func (c *Client) Fetch(ctx context.Context, job uuid.UUID) (Progress, error) {
	return c.ask(ctx, http.MethodPost, "/v1/jobs/"+job.String()+"/fetched", struct{}{})
}

func (c *Client) ask(ctx context.Context, method, path string, body any) (p Progress, err error) {
	var sent io.Reader
	if body != nil {
		text, err := json.Marshal(body)
		if err != nil {
			return p, err
		}
		sent = bytes.NewReader(text)
	}
	request, err := http.NewRequestWithContext(ctx, method, c.address+path, sent)
	if err != nil {
		return p, fmt.Errorf("asking the shop: %w", err)
	}
	request.Header.Set("Content-Type", "application/json")
	answer, err := c.http.Do(request)
	if err != nil {
		return p, fmt.Errorf("asking the shop: %w", err)
	}
	defer answer.Body.Close()
	switch {
	case answer.StatusCode == http.StatusNotFound:
		return p, ErrUnknown
	case answer.StatusCode != http.StatusOK:
		return p, fmt.Errorf("asking the shop: it answered %s", answer.Status)
	}
	if kind, _, _ := mime.ParseMediaType(answer.Header.Get("Content-Type")); kind != "application/json" {
		return p, fmt.Errorf("asking the shop: it answered with %q and not with JSON", kind)
	}
	text, err := io.ReadAll(io.LimitReader(answer.Body, mostAnswer+1))
	if err != nil {
		return p, fmt.Errorf("asking the shop: %w", err)
	}
	if len(text) > mostAnswer {
		return p, errors.New("asking the shop: its answer is too long")
	}
	if err := json.Unmarshal(text, &p); err != nil {
		return Progress{}, fmt.Errorf("asking the shop: its answer cannot be read: %w", err)
	}
	if err := p.check(); err != nil {
		return Progress{}, fmt.Errorf("asking the shop: %w", err)
	}
	return p, nil
}

// check refuses an answer that cannot be.
func (p Progress) check() error {
	switch p.State {
	case Received, Quoted, Agreed, Declined, InWork, Ready, Fetched:
	default:
		return fmt.Errorf("its answer has the unknown state %q", p.State)
	}
	amount := func(at string, cents int64) error {
		if cents < 0 || cents > mostCents {
			return fmt.Errorf("%s is %d cents, which cannot be", at, cents)
		}
		return nil
	}
	said := func(at, words string) error {
		if len(words) > mostWords || strings.ContainsRune(words, 0) {
			return fmt.Errorf("%s is too long or cannot be kept", at)
		}
		return nil
	}
	faults := []error{said("note", p.Note)}
	if q := p.Quote; q != nil {
		if q.ID == uuid.Nil {
			return errors.New("its quote has no id")
		}
		if len(q.Lines) > mostLines {
			return errors.New("its quote has too many lines")
		}
		faults = append(faults, amount("quote.total_cents", q.TotalCents), said("quote.note", q.Note))
		for n, l := range q.Lines {
			at := fmt.Sprintf("quote.lines[%d]", n)
			faults = append(faults, amount(at+".cents", l.Cents), said(at+".words", l.Words))
		}
	}
	if r := p.Result; r != nil {
		if len(r.Lines) > mostLines {
			return errors.New("its result has too many lines")
		}
		faults = append(faults, amount("result.total_cents", r.TotalCents))
		for n, l := range r.Lines {
			at := fmt.Sprintf("result.lines[%d]", n)
			faults = append(faults, amount(at+".cents", l.Cents), said(at+".words", l.Words), said(at+".note", l.Note))
		}
	}
	return errors.Join(faults...)
}
