package app_test

import (
	"bytes"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/care"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/money"
	coreshop "solfeggio/internal/core/shop"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/shoprows"
)

// workshop is a school with three violins of one size, one of which Ode plays and which has an open seam and hair that is due, and two
// shops: one that takes work by message and one that is simulated.
type workshop struct {
	*house
	message, service shoprows.RepairShop
	seam             uuid.UUID
}

func newWorkshop(t *testing.T) *workshop {
	h := newHouse(t)
	h.bring("tag,kind,size,care_from\nVN-01,violin,4/4,2025-06-10\nVN-02,violin,4/4,2026-09-01\nVN-03,violin,4/4,2026-09-01\n")
	h.roster("external_id,given_name,family_name,ensembles,instrument\np1,Ode,Marchetti,Orchestra,violin\n", nil)
	give := lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player("Ode Marchetti").ID, InstrumentID: h.id("VN-01")}}}
	_, err := h.Lending.HandOut(ctx, h.director, give)
	require.NoError(t, err)
	w := &workshop{house: h, seam: uuid.New()}
	_, err = h.Inspection.ReportFinding(ctx, h.director, h.id("VN-01"),
		inspection.Report{ID: w.seam, Found: inspection.Found{Code: "peg-fit"}})
	require.NoError(t, err)
	trades := []string{"strings", "bows"}
	w.message = shoprows.RepairShop{ID: uuid.New(), Name: "Quoin Street Strings", Trades: trades, Way: shoprows.ByMessage,
		OpenDays: []int{2, 4}, WarrantyDays: 60}
	w.service = shoprows.RepairShop{ID: uuid.New(), Name: "Larch Row", Trades: trades, Way: shoprows.ByService}
	for _, at := range []shoprows.RepairShop{w.message, w.service} {
		require.NoError(t, h.Shop.SaveShop(ctx, h.director, at))
	}
	return w
}

// want makes a job of the seam and the hair, for a shop.
func (w *workshop) want(at shoprows.RepairShop) uuid.UUID {
	w.t.Helper()
	id := uuid.New()
	_, err := w.Shop.Want(ctx, w.director, shop.Wanting{
		ID: id, InstrumentID: w.id("VN-01"), Origin: shoprows.FromFinding, Findings: []uuid.UUID{w.seam},
		Care: []clocks.Key{{Routine: "bow-rehair", Part: "bow-hair"}},
	})
	require.NoError(w.t, err)
	v := w.view(id)
	_, err = w.Shop.Change(ctx, w.director, id, shop.Asking{
		At: shop.At{Version: 1}, ShopID: &at.ID, NotWanted: v.Job.NotWanted, Decides: v.Job.Decides, Lines: v.Job.Lines,
	})
	require.NoError(w.t, err)
	return id
}

func (w *workshop) view(id uuid.UUID) shop.JobView {
	w.t.Helper()
	v, err := w.Shop.View(ctx, w.director, id)
	require.NoError(w.t, err)
	return v
}

// at is the job's present version.
func (w *workshop) at(id uuid.UUID) shop.At { return shop.At{Version: w.view(id).Job.Version} }

func (w *workshop) must(changed journal.Changed, err error) []uuid.UUID {
	w.t.Helper()
	require.NoError(w.t, err)
	return changed.Events
}

// From an open seam to checked in: asked by message, quoted, agreed, booked, sent with a loaner, back, half mended, and every step taken
// back once and taken again.
func TestAJobFromTheSeamToTheSlot(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.message)
	v := w.view(id)
	require.Len(t, v.Job.Lines, 2)
	assert.Equal(t, []string{"Pegs", "Hair"}, []string{v.Job.Lines[0].Words, v.Job.Lines[1].Words})
	assert.Equal(t, int64(14_000), v.Row.Cents, "at usual prices")
	assert.Contains(t, v.Job.NotWanted, "varnish")
	require.NotNil(t, v.Loaner)

	again := func(events []uuid.UUID) {
		t.Helper()
		before := w.view(id)
		_, err := w.Schools.Undo(ctx, w.director, school.Undo{Events: events})
		require.NoError(t, err)
		assert.NotEqual(t, before.Job.State, w.view(id).Job.State, "taken back")
	}
	ask := func() []uuid.UUID { return w.must(w.Shop.Ask(ctx, w.director, id, w.at(id))) }
	again(ask())
	ask()
	outbox, err := w.Letters.Notices(ctx, w.director)
	require.NoError(t, err)
	assert.Contains(t, outbox.Sent[0].Body, "– Pegs\n– Hair")

	quote := func() []uuid.UUID {
		until := thisDay + 3
		return w.must(w.Shop.TakeQuote(ctx, w.director, id, shop.Quoting{
			At: w.at(id), ID: uuid.New(), Currency: "eur", TotalCents: 12_000, ValidUntil: &until,
			Lines: []shoprows.QuoteLine{{Words: "Seam", Cents: 5500}, {Words: "Hair", Cents: 6000}},
		}))
	}
	again(quote())
	quote()
	v = w.view(id)
	assert.Equal(t, int64(500), v.Quotes[0].Differs, "its total is more than its lines")
	assert.True(t, v.Row.Alert, "it runs out soon")
	agree := func() []uuid.UUID { return w.must(w.Shop.Agree(ctx, w.director, id, w.at(id))) }
	again(agree())
	agree()
	assert.Equal(t, int64(12_000), *w.view(id).Job.AgreedCents)

	trip := shoprows.Trip{ID: uuid.New(), On: thisDay + 2, Places: 1, FixedCents: 900}
	require.NoError(t, w.Shop.SaveTrip(ctx, w.director, trip))
	book := func() []uuid.UUID {
		return w.must(w.Shop.Book(ctx, w.director, id, shop.Booking{At: w.at(id), TripID: &trip.ID}))
	}
	again(book())
	book()
	loaner := uuid.MustParse(v.Loaner.Key)
	drive := func() []uuid.UUID {
		return w.must(w.Shop.Drive(ctx, w.director, trip.ID,
			shop.Driving{At: tripVersion(w, trip.ID), Loaners: map[uuid.UUID]uuid.UUID{id: loaner}}))
	}
	again(drive())
	assert.Equal(t, "Ode Marchetti", w.file("VN-01").Listed.Holder, "it is hers again")
	drive()
	assert.Equal(t, school.AtShop, w.file("VN-01").Listed.Mark)
	assert.Equal(t, "Ode Marchetti", w.file("VN-02").Listed.Holder)

	w.now = w.now.AddDate(0, 0, 20)
	board, err := w.Shop.Board(ctx, w.director)
	require.NoError(t, err)
	assert.Equal(t, "6 days longer away than it should be", board.Jobs[0].Says, "two weeks are usual where nothing is known")
	fetched := func() []uuid.UUID { return w.must(w.Shop.Fetched(ctx, w.director, id, w.at(id))) }
	again(fetched())
	fetched()
	assert.Equal(t, school.OnHold, w.file("VN-01").Listed.Mark, "nobody has looked it over")

	seam, hair := int64(5500), int64(0)
	checkIn := func() []uuid.UUID {
		return w.must(w.Shop.CheckIn(ctx, w.director, id, shop.CheckingIn{
			At: w.at(id), TotalCents: 5500, PlayTested: true, Goes: shop.ToPlayer,
			Lines: []shop.CheckedLine{{Outcome: shoprows.Mended, Cents: &seam}, {Outcome: shoprows.NotMended, Cents: &hair}},
		}))
	}
	again(checkIn())
	assert.Equal(t, "peg-fit", w.file("VN-01").Findings[0].Code, "what was mended is open again")
	assert.Equal(t, "Ode Marchetti", w.file("VN-02").Listed.Holder, "and she has the loaner again")
	checkIn()
	f := w.file("VN-01")
	assert.Empty(t, f.Findings)
	assert.Equal(t, "Ode Marchetti", f.Listed.Holder)
	assert.Equal(t, int64(5500), f.Spent)
	assert.Nil(t, f.Job)
	assert.NotEmpty(t, w.file("VN-02").Listed.Held, "the loaner waits for its turnover")
	hairClock := w.clock("VN-01", clocks.Key{Routine: "bow-rehair", Part: "bow-hair"})
	assert.Greater(t, hairClock.Wear, 1., "the hair was not done, so its clock runs on")
	closed := w.view(id).Job
	assert.Equal(t, thisDay+20+60, *closed.WarrantyUntil)
	assert.Contains(t, w.said("VN-01"), "Checked in from Quoin Street Strings for 55.00 EUR")

	board, err = w.Shop.Board(ctx, w.director)
	require.NoError(t, err)
	assert.Equal(t, 20., *board.Shops[1].Turnaround[0].MedianDays)
	require.Len(t, board.Suggested, 1, "of VN-01 the hair, which is due")
	assert.Contains(t, board.Suggested[0].Because, "hair is late")
}

func tripVersion(w *workshop, id uuid.UUID) shop.At {
	board, err := w.Shop.Board(ctx, w.director)
	require.NoError(w.t, err)
	for _, t := range board.Trips {
		if t.ID == id {
			return shop.At{Version: t.Version}
		}
	}
	return shop.At{}
}

// Whatever cannot be is said in words, and the job stays as it was.
func TestWhatCannotBe(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.service)
	v := w.view(id)
	_, err := w.Shop.Change(ctx, w.director, id, shop.Asking{At: w.at(id), ShopID: &w.message.ID, Lines: v.Job.Lines})
	require.NoError(t, err)
	refuse := func(path string, err error) {
		t.Helper()
		f := fault(t, err, journal.Invalid)
		require.NotEmpty(t, f.Fields)
		assert.Equal(t, path, f.Fields[0].Path, f.Fields[0].Message)
	}
	yesterday, wednesday := thisDay-1, thisDay+1
	refuse("currency", second(w.Shop.TakeQuote(ctx, w.director, id,
		shop.Quoting{At: w.at(id), ID: uuid.New(), Currency: "USD", TotalCents: 5})))
	refuse("valid_until", second(w.Shop.TakeQuote(ctx, w.director, id,
		shop.Quoting{At: w.at(id), ID: uuid.New(), Currency: "EUR", ValidUntil: &yesterday})))
	refuse("on", w.Shop.SaveTrip(ctx, w.director, shoprows.Trip{ID: uuid.New(), On: yesterday, Places: 3}))
	w.must(w.Shop.Agree(ctx, w.director, id, w.at(id)))
	trip := shoprows.Trip{ID: uuid.New(), On: wednesday, Places: 3}
	require.NoError(t, w.Shop.SaveTrip(ctx, w.director, trip))
	refuse("trip_id", second(w.Shop.Book(ctx, w.director, id, shop.Booking{At: w.at(id), TripID: &trip.ID})))
	refuse("fetched_on", second(w.Shop.Book(ctx, w.director, id, shop.Booking{At: w.at(id), FetchedOn: &wednesday})))
	refuse("trip_id", second(w.Shop.Book(ctx, w.director, id, shop.Booking{At: w.at(id)})))
	refuse("instrument_id", second(w.Shop.Want(ctx, w.director,
		shop.Wanting{ID: uuid.New(), InstrumentID: uuid.New(), Origin: shoprows.ByHand, Asks: "x"})))
	refuse("asks", second(w.Shop.Want(ctx, w.director, shop.Wanting{ID: uuid.New(), InstrumentID: w.id("VN-02"), Origin: shoprows.ByHand})))
	fault(t, second(w.Shop.Want(ctx, w.director,
		shop.Wanting{ID: uuid.New(), InstrumentID: w.id("VN-01"), Origin: shoprows.ByHand, Asks: "x"})), journal.Conflict)
	fault(t, second(w.Shop.CheckIn(ctx, w.director, id, shop.CheckingIn{At: w.at(id)})), journal.Conflict)
	fault(t, second(w.Rentals.Leave(ctx, w.director, w.id("VN-01"), rentals.Leaving{How: "sold"})), journal.Conflict)
	fault(t, w.Shop.LeaveShop(ctx, w.director, w.message.ID, shop.At{Version: 1}), journal.Conflict)

	// Two people send and check the same job in: one of them does.
	stale := w.at(id)
	w.must(w.Shop.Send(ctx, w.director, id, shop.Departure{At: stale}))
	fault(t, second(w.Shop.Send(ctx, w.director, id, shop.Departure{At: stale})), journal.Conflict)
	stale = w.at(id)
	in := shop.CheckingIn{At: stale, Lines: []shop.CheckedLine{{Outcome: shoprows.Mended}, {Outcome: shoprows.Mended}}, Goes: shop.ToSlot}
	refuse("play_tested", second(w.Shop.CheckIn(ctx, w.director, id, in)))
	in.PlayTested = true
	refuse("lines", second(w.Shop.CheckIn(ctx, w.director, id, shop.CheckingIn{At: stale, PlayTested: true, Goes: shop.ToSlot})))
	w.must(w.Shop.CheckIn(ctx, w.director, id, in))
	fault(t, second(w.Shop.CheckIn(ctx, w.director, id, in)), journal.Conflict)
	assert.Contains(t, w.file("VN-01").Listed.Held, "turnover", "somebody had it, and the next is somebody else")
}

// What is rented goes to no shop: its owner is told, once for what was found.
func TestOwnersAreTold(t *testing.T) {
	w := newWorkshop(t)
	contract := instrumentrows.Rental{ID: uuid.New(), Owner: "Marl & Daughter", Contact: "loans@marl.example", StartsOn: thisDay - 30}
	require.NoError(t, w.Rentals.SaveRental(ctx, w.director, w.id("VN-01"), contract))
	refused := fault(t, second(w.Shop.Want(ctx, w.director, shop.Wanting{
		ID: uuid.New(), InstrumentID: w.id("VN-01"), Origin: shoprows.FromFinding, Findings: []uuid.UUID{w.seam},
	})), journal.Conflict)
	assert.Contains(t, refused.Message, "Marl & Daughter")
	w.must(w.Shop.TellOwner(ctx, w.director, w.id("VN-01")))
	outbox, err := w.Letters.Notices(ctx, w.director)
	require.NoError(t, err)
	assert.Equal(t, "loans@marl.example", outbox.Sent[0].AddressedTo)
	assert.Contains(t, outbox.Sent[0].Body, "peg does not fit")
	fault(t, second(w.Shop.TellOwner(ctx, w.director, w.id("VN-01"))), journal.Conflict)
	board, err := w.Shop.Board(ctx, w.director)
	require.NoError(t, err)
	assert.True(t, board.Suggested[0].OwnerTold)
}

// The school's own prices and times come into use when there are enough of them.
func TestWhatWasPaidIsExpected(t *testing.T) {
	w := newWorkshop(t)
	for n, cents := range []int64{7000, 9000, 8000} {
		w.must(w.Shop.Remember(ctx, w.director, shop.Past{
			ID: uuid.New(), InstrumentID: w.id("VN-02"), ShopID: w.message.ID, Works: []string{"pegs-fitted"}, TotalCents: cents,
			SentOn: thisDay - 100, BackOn: thisDay - 90 + day.Day(n),
		}))
	}
	v := w.view(w.want(w.message))
	assert.Equal(t, int64(8000), *v.Job.Lines[0].ExpectedCents, "the middle one")
	board, err := w.Shop.Board(ctx, w.director)
	require.NoError(t, err)
	assert.Equal(t, 11, board.Shops[1].Expected.Days, "half of them were back by then")
	assert.Equal(t, int64(24_000), w.file("VN-02").Spent)
	var sheet bytes.Buffer
	require.NoError(t, w.Shop.JobSheet(ctx, w.director, v.Job.ID, &sheet))
	assert.True(t, bytes.HasPrefix(sheet.Bytes(), []byte("%PDF-")))
}

// What is at a shop is cared for there: a tick at school is refused and says so, unless it was done before it left; and what is rented to
// the school goes to its owner, so no contract begins while a shop has it. What is stopped may be cared for, and stays stopped.
func TestWhatIsAtAShopIsNotCaredForHere(t *testing.T) {
	h := newHouse(t)
	h.bring(threeViolins)
	_, err := h.Inspection.ReportFinding(ctx, h.director, h.id("VN-02"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}})
	require.NoError(t, err)
	done, err := h.tick(h.director, "VN-02", eString)
	require.NoError(t, err)
	assert.Equal(t, []string{"VN-02 is stopped: open seam"}, done.Stopped)

	h.sendAway(h.id("VN-01"))
	_, err = h.tick(h.director, "VN-01", eString)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "VN-01 is at the shop.")
	_, err = h.Upkeep.Renew(ctx, h.director, h.id("VN-01"), upkeep.Renewed{Part: "string-e"})
	fault(t, err, journal.Conflict)
	yesterday := thisDay - 1
	_, err = h.Care.Finish(ctx, h.director, care.Finish{
		Tasks: []care.FinishTask{{InstrumentID: h.id("VN-01"), Key: eString}}, DoneOn: &yesterday,
	})
	require.NoError(t, err, "it was still here")
	contract := instrumentrows.Rental{ID: uuid.New(), Owner: "Fermata Hire", StartsOn: thisDay}
	assert.Contains(t, fault(t, h.Rentals.SaveRental(ctx, h.director, h.id("VN-01"), contract), journal.Conflict).Message, "goes to its owner")
	require.NoError(t, h.Rentals.SaveRental(ctx, h.director, h.id("VN-03"), contract))
}

func TestACurrencyIsOneThatThereIs(t *testing.T) {
	h := newHouse(t)
	set, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	set.School.Currency = " sek "
	require.NoError(t, h.Settings.SaveSchool(ctx, h.director, set.School))
	set.School.Currency, set.School.Version = "QQQ", set.School.Version+1
	assert.Contains(t, fault(t, h.Settings.SaveSchool(ctx, h.director, set.School), journal.Invalid).Fields[0].Message, "no currency of ISO 4217")
	header, err := h.Today.Header(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, money.Currency("SEK"), header.Currency)
}

// Amounts of a school that reckons in yen have no decimals, in its files, its letters, its log and its reasons.
func TestYenHaveNoDecimals(t *testing.T) {
	w := newWorkshop(t)
	set, err := w.Settings.Settings(ctx, w.director)
	require.NoError(t, err)
	set.School.Currency = "jpy"
	require.NoError(t, w.Settings.SaveSchool(ctx, w.director, set.School))
	w.bring("tag,kind,size,price\nVN-01,violin,4/4,125000\n")
	assert.Equal(t, int64(125_000), *w.file("VN-01").Instrument.PriceCents)
	var written [][]string
	require.NoError(t, w.Importing.Export(ctx, w.director, func(_ []string, rows [][]string) error {
		written = rows
		return nil
	}))
	assert.Contains(t, written[0], "125000")
	id := w.want(w.message)
	w.must(w.Shop.TakeQuote(ctx, w.director, id, shop.Quoting{At: w.at(id), ID: uuid.New(), Currency: "jpy", TotalCents: 12_000}))
	assert.Contains(t, w.said("VN-01"), "Quoted for 12000 JPY by Quoin Street Strings")
	assert.Contains(t, w.view(id).Weighed.Why.Inputs[0].Value, "12000 JPY")
}

// What is recorded goes before what is remembered, and two rules that disagree say what would settle it.
func TestARecordedPriceGoesFirst(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.message)
	usual := w.view(id)
	assert.Equal(t, why.FromMemory, usual.Outlook.Why[0].Basis.Kind)
	assert.Contains(t, usual.Outlook.Settles, "what a new one costs")
	price := func(tag string, cents int64, on *day.Day) {
		t.Helper()
		f := w.file(tag)
		f.Instrument.PriceCents, f.Instrument.AcquiredOn = &cents, on
		_, err := w.Inventory.ChangeInstrument(ctx, w.director, f.Instrument.ID, lending.Change{Instrument: f.Instrument, Habit: f.Habit})
		require.NoError(t, err)
	}
	price("VN-01", 300_000, nil)
	v := w.view(id)
	assert.Equal(t, int64(300_000), v.Outlook.ReplacementCents, "its own price, though nobody knows from when")
	assert.Equal(t, why.SchoolSetting, v.Outlook.Why[0].Basis.Kind)
	assert.Equal(t, "What was paid for this one, as its file says.", v.Outlook.Why[0].Statement)
	assert.NotContains(t, v.Outlook.Settles, "what a new one costs")
	later, earlier := thisDay-100, thisDay-400
	price("VN-02", 280_000, &later)
	price("VN-03", 250_000, &earlier)
	v = w.view(id)
	assert.Equal(t, int64(280_000), v.Outlook.ReplacementCents, "what was paid last for one like it")
	assert.Equal(t, coreshop.Repair, v.Weighed.Choice)
}
