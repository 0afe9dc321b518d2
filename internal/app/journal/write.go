package journal

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
)

// ErrNothing ends a transaction in which nothing is to be kept.
var ErrNothing = errors.New("nothing is kept")

// A Request is a write as somebody sent it. Sent again under its id it is answered as the first time and done once.
type Request struct {
	ID          uuid.UUID // made by the client
	Operation   string
	Fingerprint []byte // of everything that was sent, so that one id is not used for two things
}

type requestKey struct{}

// WithRequest marks what is done under ctx as this request.
func WithRequest(ctx context.Context, r Request) context.Context {
	return context.WithValue(ctx, requestKey{}, r)
}

// RequestOf is the request of ctx; nil where nobody made an id for it.
func RequestOf(ctx context.Context) *Request {
	if r, ok := ctx.Value(requestKey{}).(Request); ok {
		return &r
	}
	return nil
}

// answered reads what was answered to a request into out, and reports whether it was.
func (r *Request) answered(ctx context.Context, tx *store.Tx, by Person, out any) (bool, error) {
	if r == nil {
		return false, nil
	}
	answer, known, err := eventrows.Answered(ctx, tx, r.ID, by.ID, r.Operation, r.Fingerprint)
	if err != nil || !known {
		return false, err
	}
	return true, json.Unmarshal(answer, out)
}

func (r *Request) keep(ctx context.Context, tx *store.Tx, by Person, out any, now time.Time) error {
	if r == nil {
		return nil
	}
	answer, err := json.Marshal(out)
	if err != nil {
		return err
	}
	return eventrows.SaveAnswer(ctx, tx, r.ID, by.ID, r.Operation, r.Fingerprint, answer, now)
}

// Amend changes what is answered when the request of ctx comes again, for what became known only after it was kept: whether a letter that
// went with it was handed over.
func Amend[Out any](ctx context.Context, j *Journal, by Person, out Out) error {
	request := RequestOf(ctx)
	if request == nil {
		return nil
	}
	answer, err := json.Marshal(out)
	if err != nil {
		return err
	}
	return j.DB.WriteAside(ctx, by.School, func(tx *store.Tx) error { return eventrows.AmendAnswer(ctx, tx, request.ID, answer) })
}

// errAnswered ends a transaction in which nothing is to be done, because it was done before.
var errAnswered = errors.New("answered before")

// Write runs a use case in one transaction. A request that was answered before is looked up before anything else, so that whatever
// happened since, the same answer is returned and nothing is done.
//
// Writes of a school wait for each other: f does nothing slow.
func Write[Out any](ctx context.Context, j *Journal, by Person, need Right, f func(tx *store.Tx) (Out, error)) (Out, error) {
	var out Out
	if err := by.Need(need); err != nil {
		return out, err
	}
	request := RequestOf(ctx)
	err := j.run(ctx, by.School, func(tx *store.Tx) error {
		switch known, err := request.answered(ctx, tx, by, &out); {
		case err != nil:
			return err
		case known:
			return errAnswered
		}
		err := stillMay(ctx, tx, by)
		if err != nil {
			return err
		}
		if out, err = f(tx); err != nil {
			return err
		}
		return request.keep(ctx, tx, by, out, j.Now())
	})
	switch {
	case errors.Is(err, errAnswered):
		return out, nil
	case errors.Is(err, store.ErrInDoubt) && request != nil:
		out, err = lookUp[Out](ctx, j, by, request, err)
	}
	return out, InPlainWords(err)
}

// stillMay refuses whose session, key or rights were taken away while their request waited for the school.
func stillMay(ctx context.Context, tx *store.Tx, by Person) error {
	if by.ID == uuid.Nil {
		return nil // a card or a shared calendar, which come without anybody's rights
	}
	role, err := peoplerows.RoleNow(ctx, tx, by.ID, by.Session, by.Key)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return &Fault{Kind: Unauthorized, Message: "You were signed out meanwhile. Nothing was changed."}
	case err != nil:
		return err
	case Role(role).Lesser(by.Role) != by.Role:
		return &Fault{Kind: Forbidden, Message: "What you may do was changed meanwhile. Nothing was changed by you; press again."}
	}
	return nil
}

// lookUp finds out whether a request was kept whose commit was cut off: it waits until the database has done with it.
func lookUp[Out any](ctx context.Context, j *Journal, by Person, request *Request, doubt error) (out Out, err error) {
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	var known bool
	for pause := 50 * time.Millisecond; ; pause *= 2 {
		err = j.DB.Settled(ctx, by.School, func(tx *store.Tx) (err error) {
			known, err = request.answered(ctx, tx, by, &out)
			return err
		})
		if !errors.Is(err, store.ErrUnavailable) && !errors.Is(err, store.ErrWaiting) {
			break
		}
		select {
		case <-ctx.Done():
			return out, doubt
		case <-time.After(pause):
		}
	}
	switch {
	case err != nil:
		return out, doubt
	case !known:
		return out, store.ErrUnavailable // now it is known that nothing was kept
	}
	return out, nil
}

// WritePrepared is Write for what takes a while to prepare: that is done before anything is locked, and again when f finds it
// overtaken. A request that was answered before is not prepared.
func WritePrepared[Out any](
	ctx context.Context,
	j *Journal,
	by Person,
	need Right,
	prepare func() error,
	f func(tx *store.Tx) (Out, error),
) (Out, error) {
	var out Out
	if err := by.Need(need); err != nil {
		return out, err
	}
	if request := RequestOf(ctx); request != nil {
		var known bool
		if err := j.Read(ctx, by, func(tx *store.Tx) (err error) {
			known, err = request.answered(ctx, tx, by, &out)
			return err
		}); err != nil || known {
			return out, err
		}
	}
	for try := 1; ; try++ {
		if err := prepare(); err != nil {
			return out, err
		}
		out, err := Write(ctx, j, by, need, f)
		switch {
		case !errors.Is(err, ErrOvertaken):
			return out, err
		case try == mostTries:
			return out, &Fault{Kind: Conflict, Message: "Others are at work on the same just now. Nothing was changed; press again."}
		}
	}
}

// Unrepeated is ctx for a write that follows from another and has no id of its own.
func Unrepeated(ctx context.Context) context.Context {
	return context.WithValue(ctx, requestKey{}, nil)
}

// ErrOvertaken says that what was prepared does not fit any more, because somebody wrote meanwhile.
var ErrOvertaken = errors.New("overtaken by another write")

// mostTries is how often something is prepared anew.
const mostTries = 5
