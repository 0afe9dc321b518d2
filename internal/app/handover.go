package app

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
)

// HandOverSheet is all that one hand-over needs, step by step.
type HandOverSheet struct {
	Instrument Listed            `json:"instrument"`
	PlayerID   uuid.UUID         `json:"player_id"`
	Player     string            `json:"player"`
	Fit        *FitSheet         `json:"fit,omitempty" doc:"For stringed instruments"`
	Findings   []FileFinding     `json:"findings" doc:"What is known and open; only what changed since is added"`
	Answers    []SheetAnswer     `json:"answers" doc:"What may be found"`
	Checked    *time.Time        `json:"checked,omitempty" doc:"The last check"`
	Kit        []KitThing        `json:"kit"`
	Heading    string            `json:"heading" doc:"Of the agreement"`
	Terms      string            `json:"terms" doc:"What is agreed, filled in"`
	DueBackOn  *day.Day          `json:"due_back_on,omitempty" doc:"The end of the school year"`
	Assembly   *catalog.Resolved `json:"assembly,omitempty" doc:"How this instrument is put together: shown before the first note"`
	Refused    string            `json:"refused" doc:"Why it must not be handed out; empty when it may"`
}

// FitSheet is what is known of the player's size.
type FitSheet struct {
	Measure  string     `json:"measure" doc:"What was measured; empty when nothing was"`
	Chart    string     `json:"chart" doc:"Size by the chart; empty when nothing was measured"`
	Fits     string     `json:"fits" doc:"Size that fits: by the checks with this instrument in hand, else by the chart; empty when neither says"`
	Apart    int        `json:"apart" doc:"Sizes that the instrument is larger than that; below 0 smaller"`
	Signs    []fit.Sign `json:"signs" doc:"With the instrument in hand"`
	Cautions []string   `json:"cautions"`
}

// HandOverSheet prepares a hand-over. The checks made so far enter the size.
func (a *App) HandOverSheet(ctx context.Context, by Person, pair Pair, checks fit.Checks) (HandOverSheet, error) {
	if err := by.need(MayChangeInstruments); err != nil {
		return HandOverSheet{}, err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return HandOverSheet{}, err
	}
	p, i, err := s.pair("", pair)
	if err != nil {
		return HandOverSheet{}, err
	}
	out := HandOverSheet{Instrument: s.listed(i), PlayerID: p.ID, Player: p.Name(), Kit: a.kitOf(i, p.ReedStrength), DueBackOn: s.yearEnd()}
	if out.Fit, err = fitSheet(p, i, checks); err != nil {
		return out, err
	}
	if refused := i.cannotBeHandedOut(); refused != nil {
		out.Refused = refused.Error()
	}
	if out.Answers, err = a.Findable(ctx, by, i.ID); err != nil {
		return out, err
	}
	for _, key := range i.kind.Routines {
		if routine, _ := a.catalog.Routine(key); routine.Rhythm == "assembly" {
			if resolved, ok := a.catalog.Resolve(routine, a.subject(i)); ok {
				out.Assembly = &resolved
			}
		}
	}
	out.Heading, out.Terms = wording.Fill(s.wording(wording.Agreement), s.agreementPlaces(i, p.Name(), out.DueBackOn, s.today))
	err = a.read(ctx, by, func(tx *store.Tx) error {
		photos, err := tx.Photos(ctx, i.ID)
		if err != nil {
			return err
		}
		out.Findings = a.described(i.kind, i.findings, photos)
		out.Checked, err = lastChecked(ctx, tx, i.ID)
		return err
	})
	return out, err
}

// fitSheet works out how an instrument fits a player; nil where there is no chart.
func fitSheet(p *store.Player, i *instrument, checks fit.Checks) (*FitSheet, error) {
	chart, ok := fit.ChartOf(i.Instrument.Kind)
	if !ok || i.Size == "" {
		return nil, nil
	}
	if err := checks.Check(chart); err != nil {
		return nil, invalid("checks", err.Error(), nil)
	}
	sheet := &FitSheet{Signs: fit.SignsOf(chart)}
	if fit.Charts[chart].Measure == "height_cm" {
		sheet.Cautions = append(sheet.Cautions, "First the right chair or stool: knees and feet at rest, the endpin set.")
	}
	sheet.Cautions = append(sheet.Cautions, "The checks stand above any chart. In doubt, the smaller: an instrument too large strains hand, arm and shoulder.")
	in := fit.SizeIn{Kind: chart, Checks: &checks}
	for _, m := range p.Measurements {
		if fit.Charts[chart].Measure == "height_cm" && m.Height != nil {
			in.HeightCM, sheet.Measure = m.Height, fmt.Sprintf("%v cm tall on %s", *m.Height, m.MeasuredOn.Words())
		}
		if fit.Charts[chart].Measure == "arm_length_cm" && m.ArmLength != nil {
			in.ArmLengthCM, sheet.Measure = m.ArmLength, fmt.Sprintf("arm %v cm on %s", *m.ArmLength, m.MeasuredOn.Words())
		}
	}
	if sheet.Measure != "" {
		got, err := fit.Size(in)
		if err != nil {
			return nil, err
		}
		sheet.Chart, sheet.Fits = got.ChartSize, got.ChartSize
	}
	if fits, said := fit.InHand(chart, i.Size, checks); said {
		sheet.Fits = fits
	}
	if sheet.Fits != "" {
		sheet.Apart, _ = fit.Apart(chart, sheet.Fits, i.Size)
	}
	return sheet, nil
}

// Handing is one hand-over with what was looked at and agreed.
type Handing struct {
	ID uuid.UUID `json:"id" doc:"Made by the client"`
	Pair
	DueBackOn *day.Day                    `json:"due_back_on,omitempty"`
	Checks    *fit.Checks                 `json:"checks,omitempty"`
	Findings  []Found                     `json:"findings,omitempty" maxItems:"20" doc:"What changed since the last check"`
	Photos    []uuid.UUID                 `json:"photos,omitempty" maxItems:"8" doc:"Of its condition, sent before"`
	Kit       map[string]catalog.KitState `json:"kit,omitempty" doc:"As it goes out, by supply; what is not named is as it was"`
	Signature Signing                     `json:"signature"`
}

// Signing is how an agreement is signed.
type Signing struct {
	How     string     `json:"how" enum:"screen,paper,later" doc:"On this screen, on a printed sheet that is here, or not yet"`
	By      string     `json:"by,omitempty" maxLength:"120" doc:"Who signed"`
	Strokes [][][2]int `json:"strokes,omitempty" maxItems:"200" doc:"On the screen: points from 0 to 1000 across and down"`
}

const (
	shortestSignature = 150  // of a thousand across: less is a slip of the hand
	mostPoints        = 5000 // of a signature
)

// read turns a signing into a signature, and refuses one that was left half-way; path is where it stands in the input.
func (g Signing) read(path string, now time.Time) (store.Signature, error) {
	by := strings.TrimSpace(g.By)
	if g.How == "later" {
		return store.Signature{}, nil
	}
	if by == "" {
		return store.Signature{}, invalid(path+"by", "say who signed", g.By)
	}
	if g.How == "paper" {
		return store.Signature{How: "paper", By: by, At: &now}, nil
	}
	length, points := 0., 0
	for n, stroke := range g.Strokes {
		for k, at := range stroke {
			if at[0] < 0 || at[0] > 1000 || at[1] < 0 || at[1] > 1000 {
				return store.Signature{}, invalid(fmt.Sprintf("%sstrokes[%d][%d]", path, n, k), "lies outside of 0 to 1000", at)
			}
			if points++; k > 0 {
				length += math.Hypot(float64(at[0]-stroke[k-1][0]), float64(at[1]-stroke[k-1][1]))
			}
		}
	}
	if length < shortestSignature {
		return store.Signature{}, invalid(path+"strokes", "is not finished; sign over the line, or have it signed on paper", nil)
	}
	if points > mostPoints {
		return store.Signature{}, invalid(path+"strokes", fmt.Sprintf("has more than %d points", mostPoints), points)
	}
	return store.Signature{How: "screen", By: by, At: &now, Strokes: g.Strokes}, nil
}

// HandOver hands one instrument out with all that was looked at and agreed, or not at all: the findings that are new, the
// state of the kit, and the agreement as it was signed.
func (a *App) HandOver(ctx context.Context, by Person, in Handing) (Changed, error) {
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		out := Changed{Events: []uuid.UUID{}}
		p, i, err := s.pair("", in.Pair)
		if err != nil {
			return out, err
		}
		if in.DueBackOn != nil && *in.DueBackOn < s.today {
			return out, invalid("due_back_on", "is past", *in.DueBackOn)
		}
		signature, err := in.Signature.read("signature.", a.now())
		if err != nil {
			return out, err
		}
		h := store.HandOver{ID: in.ID, DueBackOn: in.DueBackOn, Terms: s.wording(wording.Agreement), Signature: signature}
		if in.Checks != nil {
			if _, err := fitSheet(p, i, *in.Checks); err != nil {
				return out, err
			}
			if h.Fit, err = json.Marshal(in.Checks); err != nil {
				return out, err
			}
		}
		if err := a.lookOver(ctx, tx, by, i, in.Findings, in.Kit, s.today); err != nil {
			return out, err
		}
		given, err := a.give(ctx, tx, by, s, p, i, h)
		if err != nil {
			return out, err
		}
		// Undoing takes the hand-out back; what was found stays found.
		out.Events = append(out.Events, given)
		return out, keepPhotos(ctx, tx, i.ID, in.ID, in.Photos)
	})
}

// lookOver records what was seen at a hand-over or a return: findings that are new, and the kit as it was found.
func (a *App) lookOver(ctx context.Context, tx *store.Tx, by Person, i *instrument, found []Found, kit map[string]catalog.KitState, today day.Day) error {
	for n, f := range found {
		if !a.canBeFound(i, f.Code) {
			return invalid(fmt.Sprintf("findings[%d].code", n), "cannot be found on a "+catalog.InText(i.kind.Name), f.Code)
		}
		found := a.newFinding(i, "", f)
		found.finding.FoundAt, found.finding.FoundBy = a.now(), &by.ID
		if _, err := a.makeFinding(ctx, tx, by, found); err != nil {
			return err
		}
	}
	if len(kit) == 0 {
		return nil
	}
	changes, err := a.setKit(ctx, tx, by, i, kit, today)
	if err != nil {
		return err
	}
	_, err = a.record(ctx, tx, by, store.Event{What: store.KitChecked, Instrument: &i.ID}, KitDetail{changes})
	return err
}

func keepPhotos(ctx context.Context, tx *store.Tx, instrument, handOver uuid.UUID, photos []uuid.UUID) error {
	for _, photo := range photos {
		if err := tx.KeepPhoto(ctx, photo, instrument, handOver); err != nil {
			return photoMissing(photo)
		}
	}
	return nil
}

// Sign notes that the agreement of a hand-over was signed after it.
func (a *App) Sign(ctx context.Context, by Person, id uuid.UUID, in Signing) (Changed, error) {
	if in.How == "later" {
		return Changed{}, invalid("how", "it is not signed yet as it is", in.How)
	}
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		signature, err := in.read("", a.now())
		if err != nil {
			return Changed{}, err
		}
		h, err := tx.HandOver(ctx, id)
		if err != nil {
			return Changed{}, err
		}
		if h.Signature.How != "" {
			return Changed{}, &Fault{Kind: Conflict, Message: "It is signed already."}
		}
		if err := tx.SignHandOver(ctx, id, signature, s.wording(wording.Agreement)); err != nil {
			return Changed{}, err
		}
		event, err := a.record(ctx, tx, by, store.Event{What: store.Agreed, Instrument: &h.Instrument}, HandedOutDetail{PlayerID: h.Player, HandOver: &id})
		return Changed{Events: []uuid.UUID{event}}, err
	})
}
