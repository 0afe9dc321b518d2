package lending

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/playerrows"
)

// HandOverSheet is all that one hand-over needs, step by step.
type HandOverSheet struct {
	Instrument school.Listed            `json:"instrument"`
	PlayerID   uuid.UUID                `json:"player_id"`
	Player     string                   `json:"player"`
	Fit        *FitSheet                `json:"fit,omitempty" doc:"For stringed instruments"`
	Findings   []inspection.FileFinding `json:"findings" doc:"What is known and open; only what changed since is added"`
	Answers    []inspection.SheetAnswer `json:"answers" doc:"What may be found"`
	Checked    *time.Time               `json:"checked,omitempty" doc:"The last check"`
	Remarked   []school.Choice          `json:"remarked" doc:"What the remark on it may mean, to be looked into"`
	Known      []string                 `json:"known" doc:"What the agreement says of its condition, before anything is added here"`
	Kit        []supply.KitThing        `json:"kit"`
	Heading    string                   `json:"heading" doc:"Of the agreement"`
	Terms      string                   `json:"terms" doc:"What is agreed, filled in"`
	DueBackOn  *day.Day                 `json:"due_back_on,omitempty" doc:"The end of the school year"`
	Assembly   *catalog.Resolved        `json:"assembly,omitempty" doc:"How this instrument is put together: shown before the first note"`
	Refused    string                   `json:"refused" doc:"Why it must not be handed out; empty when it may"`
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
func (r *Room) HandOverSheet(ctx context.Context, by journal.Person, pair school.Pair, checks fit.Checks) (HandOverSheet, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return HandOverSheet{}, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return HandOverSheet{}, err
	}
	p, i, err := matched(s, "", pair)
	if err != nil {
		return HandOverSheet{}, err
	}
	out := HandOverSheet{
		Instrument: s.Listed(i),
		PlayerID:   p.ID,
		Player:     p.Name(),
		Kit:        r.supply.KitOf(i, p.ReedStrength, nil),
		DueBackOn:  s.YearEnd(),
	}
	if out.Fit, err = fitSheet(p, i, checks); err != nil {
		return out, err
	}
	if refused := i.CannotBeHandedOut(); refused != nil {
		out.Refused = refused.Error()
	}
	if out.Answers, err = r.inspection.Findable(ctx, by, i.ID); err != nil {
		return out, err
	}
	for _, key := range i.Kind.Routines {
		if routine, _ := r.schools.Catalog.Routine(key); routine.Rhythm == "assembly" {
			if resolved, ok := r.schools.Catalog.Resolve(routine, r.schools.Subject(i)); ok {
				out.Assembly = &resolved
			}
		}
	}
	out.Heading, out.Terms = wording.Fill(
		letters.WordingOf(s, wording.Agreement),
		letters.AgreementPlaces(s, i, p.Name(), out.DueBackOn, s.Today),
	)
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		photos, err := checkrows.Photos(ctx, tx, i.ID)
		if err != nil {
			return err
		}
		out.Findings = r.inspection.Described(i, i.Findings, photos)
		c, err := r.ConditionAt(ctx, tx, s, i, r.schools.Now())
		if err != nil {
			return err
		}
		out.Known, out.Remarked = c.Sentences(), r.inspection.Remarked(i)
		out.Checked, err = inspection.LastChecked(ctx, tx, i.ID)
		return err
	})
	return out, err
}

// fitSheet works out how an instrument fits a player; nil where there is no chart.
func fitSheet(p *playerrows.Player, i *school.Instrument, checks fit.Checks) (*FitSheet, error) {
	chart, ok := fit.ChartOf(i.Instrument.Kind)
	if !ok || i.Size == "" {
		return nil, nil
	}
	if err := checks.Check(chart); err != nil {
		return nil, journal.RefuseInput(err)
	}
	sheet := &FitSheet{Signs: fit.SignsOf(chart)}
	if fit.MeasureOf(chart) == "height_cm" {
		sheet.Cautions = append(sheet.Cautions, "First the right chair or stool: knees and feet at rest, the endpin set.")
	}
	sheet.Cautions = append(
		sheet.Cautions,
		"The checks stand above any chart. In doubt, the smaller: an instrument too large strains hand, arm and shoulder.",
	)
	in := fit.SizeIn{Kind: chart, Checks: &checks}
	for _, m := range p.Measurements {
		if fit.MeasureOf(chart) == "height_cm" && m.Height != nil {
			in.HeightCM, sheet.Measure = m.Height, fmt.Sprintf("%v cm tall on %s", *m.Height, m.MeasuredOn.Words())
		}
		if fit.MeasureOf(chart) == "arm_length_cm" && m.ArmLength != nil {
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
		sheet.Apart, _ = fit.Difference(chart, sheet.Fits, i.Size)
	}
	return sheet, nil
}

// Handing is one hand-over with what was looked at and agreed.
type Handing struct {
	ID uuid.UUID `json:"id" doc:"Made by the client"`
	school.Pair
	DueBackOn *day.Day                    `json:"due_back_on,omitempty"`
	Checks    *fit.Checks                 `json:"checks,omitempty"`
	Findings  []inspection.Found          `json:"findings,omitempty" maxItems:"20" doc:"What changed since the last check"`
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
func (g Signing) read(path string, now time.Time) (lendingrows.Signature, error) {
	by := strings.TrimSpace(g.By)
	if g.How == "later" {
		return lendingrows.Signature{}, nil
	}
	if by == "" {
		return lendingrows.Signature{}, journal.Refuse(path+"by", "say who signed", g.By)
	}
	if g.How == "paper" {
		return lendingrows.Signature{How: "paper", By: by, At: &now}, nil
	}
	length, points := 0., 0
	for n, stroke := range g.Strokes {
		for k, at := range stroke {
			if at[0] < 0 || at[0] > 1000 || at[1] < 0 || at[1] > 1000 {
				return lendingrows.Signature{}, journal.Refuse(fmt.Sprintf("%sstrokes[%d][%d]", path, n, k), "lies outside of 0 to 1000", at)
			}
			if points++; k > 0 {
				length += math.Hypot(float64(at[0]-stroke[k-1][0]), float64(at[1]-stroke[k-1][1]))
			}
		}
	}
	if length < shortestSignature {
		return lendingrows.Signature{}, journal.Refuse(path+"strokes", "is not finished; sign over the line, or have it signed on paper", nil)
	}
	if points > mostPoints {
		return lendingrows.Signature{}, journal.Refuse(path+"strokes", fmt.Sprintf("has more than %d points", mostPoints), points)
	}
	return lendingrows.Signature{How: "screen", By: by, At: &now, Strokes: g.Strokes}, nil
}

// HandOver hands one instrument out with all that was looked at and agreed, or not at all: the findings that are new, the
// state of the kit, and the agreement as it was signed.
func (r *Room) HandOver(ctx context.Context, by journal.Person, in Handing) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		p, i, err := matched(s, "", in.Pair)
		if err != nil {
			return out, err
		}
		if in.DueBackOn != nil && *in.DueBackOn < s.Today {
			return out, journal.Refuse("due_back_on", "is past", *in.DueBackOn)
		}
		signature, err := in.Signature.read("signature.", r.schools.Now())
		if err != nil {
			return out, err
		}
		h := lendingrows.HandOver{ID: in.ID, DueBackOn: in.DueBackOn, Terms: letters.WordingOf(s, wording.Agreement), Signature: signature}
		if in.Checks != nil {
			if _, err := fitSheet(p, i, *in.Checks); err != nil {
				return out, err
			}
			if h.Fit, err = json.Marshal(in.Checks); err != nil {
				return out, err
			}
		}
		if err := r.lookOver(ctx, tx, by, i, in.Findings, in.Kit, s.Today); err != nil {
			return out, err
		}
		given, err := r.give(ctx, tx, by, s, p, i, h)
		if err != nil {
			return out, err
		}
		// Undoing takes the hand-out back; what was found stays found.
		out.Events = append(out.Events, given)
		return out, keepPhotos(ctx, tx, i.ID, in.ID, in.Photos)
	})
}

// lookOver records what was seen at a hand-over or a return: findings that are new, and the kit as it was found.
func (r *Room) lookOver(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	i *school.Instrument,
	found []inspection.Found,
	kit map[string]catalog.KitState,
	today day.Day,
) error {
	for n, f := range found {
		if !r.inspection.CanBeFound(i, f.Code) {
			return journal.Refuse(fmt.Sprintf("findings[%d].code", n), "cannot be found on a "+catalog.InText(i.Kind.Name), f.Code)
		}
		found := r.inspection.NewFinding(i, "", f)
		found.Finding.FoundAt, found.Finding.FoundBy = r.schools.Now(), &by.ID
		if _, _, err := r.inspection.MakeFinding(ctx, tx, by, found); err != nil {
			return err
		}
	}
	if len(kit) == 0 {
		return nil
	}
	changes, err := r.supply.SetKit(ctx, tx, by, i, kit, today)
	if err != nil {
		return err
	}
	_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.KitChecked, Instrument: &i.ID}, supply.KitDetail{Changes: changes})
	return err
}

func keepPhotos(ctx context.Context, tx *store.Tx, instrument, handOver uuid.UUID, photos []uuid.UUID) error {
	for _, photo := range photos {
		if err := checkrows.KeepPhoto(ctx, tx, photo, instrument, handOver); err != nil {
			return inspection.PhotoMissing(photo)
		}
	}
	return nil
}

// Sign notes that the agreement of a hand-over was signed after it.
func (r *Room) Sign(ctx context.Context, by journal.Person, id uuid.UUID, in Signing) (journal.Changed, error) {
	if in.How == "later" {
		return journal.Changed{}, journal.Refuse("how", "it is not signed yet as it is", in.How)
	}
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		signature, err := in.read("", r.schools.Now())
		if err != nil {
			return journal.Changed{}, err
		}
		h, err := lendingrows.HandOverByID(ctx, tx, id)
		if err != nil {
			return journal.Changed{}, err
		}
		if h.Signature.How != "" {
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: "It is signed already."}
		}
		if err := lendingrows.SignHandOver(ctx, tx, id, signature, letters.WordingOf(s, wording.Agreement)); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.Agreed, Instrument: &h.Instrument},
			school.HandedOutDetail{PlayerID: h.Player, HandOver: &id},
		)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}
