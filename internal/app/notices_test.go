package app_test

import (
	"bytes"
	"net/mail"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
)

// proposed lists what could be written, by letter and tag.
func (h *house) proposed() map[string]letters.ProposedNotice {
	h.t.Helper()
	all, err := h.Letters.Notices(ctx, h.director)
	require.NoError(h.t, err)
	list := map[string]letters.ProposedNotice{}
	for _, n := range all.Proposed {
		list[n.Letter+" "+n.Tag] = n
	}
	return list
}

func TestNoticesAreWrittenOnce(t *testing.T) {
	h, ode, ilse := desk(t)
	ode.Guardian = "r.marchetti@quillhaven.example"
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, ode.Player))
	soon, far := thisDay+14, thisDay+15
	for tag, due := range map[string]struct {
		p  roster.ListedPlayer
		on *lending.Handing
	}{"VN-01": {ode, &lending.Handing{DueBackOn: &soon}}, "VN-02": {ilse, &lending.Handing{DueBackOn: &far}}} {
		in := h.handing(due.p, tag)
		in.DueBackOn = due.on.DueBackOn
		_, err := h.Lending.HandOver(ctx, h.director, in)
		require.NoError(t, err)
	}
	h.check("VN-02", map[string]catalog.KitState{"mute": catalog.Missing, "rosin": catalog.Low})
	list := h.proposed()
	require.Len(t, list, 2, "%v", list)
	due := list["due-back VN-01"]
	assert.Equal(t, "r.marchetti@quillhaven.example", due.AddressedTo)
	assert.Equal(t, "Please bring VN-01 back by 8 December 2026", due.Subject)
	gaps := list["kit-missing VN-02"]
	assert.Equal(t, "Ilse Quandt", gaps.AddressedTo, "no guardian is kept")
	assert.Contains(t, gaps.Body, "there is missing: mute.")

	// Two people send the same at once: it goes out once.
	var sent sync.WaitGroup
	refused := make(chan error, 2)
	for range 2 {
		sent.Go(func() {
			_, err := h.another().Letters.SendNotices(ctx, h.director, letters.Sending{About: []string{due.About}})
			refused <- err
		})
	}
	sent.Wait()
	one, other := <-refused, <-refused
	assert.True(t, (one == nil) != (other == nil), "%v, %v", one, other)
	assert.Len(t, h.proposed(), 1)
	_, err := h.Letters.SendNotices(ctx, h.director, letters.Sending{About: []string{gaps.About, due.About}})
	fault(t, err, journal.Conflict)
	assert.Len(t, h.proposed(), 1, "all or none")

	// Something else goes missing: that is news, and is written about again.
	_, err = h.Letters.SendNotices(ctx, h.director, letters.Sending{About: []string{gaps.About}})
	require.NoError(t, err)
	h.check("VN-02", map[string]catalog.KitState{"name-tag": catalog.Missing})
	assert.Contains(t, h.proposed()["kit-missing VN-02"].Body, "mute, tag on the handle")

	all, err := h.Letters.Notices(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, all.Sent, 2)
	for _, n := range all.Sent {
		var text bytes.Buffer
		require.NoError(t, h.Letters.Message(ctx, h.director, n.ID, &text))
		read, err := mail.ReadMessage(&text) // the standard library reads what RFC 5322 asks for
		require.NoError(t, err)
		if n.Letter == wording.DueBack {
			to, err := read.Header.AddressList("To")
			require.NoError(t, err)
			assert.Equal(t, "r.marchetti@quillhaven.example", to[0].Address)
		}
		assert.Contains(t, read.Header.Get("From"), "simulated")
	}
	fault(t, h.Letters.Message(ctx, h.director, uuid.New(), &bytes.Buffer{}), journal.NotFound)
	helper := h.director
	helper.Role = journal.Helper
	_, err = h.Letters.Notices(ctx, helper)
	fault(t, err, journal.Forbidden)
}

func TestAChargeIsWrittenOfInTheSchoolsMoney(t *testing.T) {
	h, ode, _ := desk(t)
	_, err := h.Lending.HandOver(ctx, h.director, h.handing(ode, "VN-01"))
	require.NoError(t, err)
	_, err = h.Lending.Return(
		ctx,
		h.director,
		h.id("VN-01"),
		lending.Returning{
			Charge: &lending.ChargeDecision{
				Damage:      lending.Damage{RepairCents: 9000, Avoidable: true},
				AmountCents: 123450,
				Reason:      "a crushed bridge",
			},
		},
	)
	require.NoError(t, err)
	n := h.proposed()["charge VN-01"]
	assert.Contains(t, n.Body, "a crushed bridge")
	assert.Contains(t, strings.ReplaceAll(n.Body, "\u00a0", " "), "€ 1,234.50")
	assert.Equal(t, "Ode Marchetti", n.Player)
}

// A rented cello from its contract to its exchange and its way home.
func TestARentedInstrument(t *testing.T) {
	h, ode, ilse := desk(t)
	cents, until := int64(3400), thisDay+20
	contract := instrumentrows.Rental{
		ID:           uuid.New(),
		Owner:        "Hollin Hire House",
		Contract:     "HH-1",
		StartsOn:     thisDay - 60,
		ReturnBy:     &until,
		MonthlyCents: &cents,
	}
	early := thisDay - 61
	wrong := contract
	wrong.ReturnBy = &early
	assert.Equal(t, "return_by", fault(t, h.Rentals.SaveRental(ctx, h.director, h.id("VN-01"), wrong), journal.Invalid).Fields[0].Path)
	require.NoError(t, h.Rentals.SaveRental(ctx, h.director, h.id("VN-01"), contract))
	fault(
		t,
		h.Rentals.SaveRental(ctx, h.director, h.id("VN-01"), instrumentrows.Rental{ID: uuid.New(), Owner: "Another", StartsOn: thisDay}),
		journal.Conflict,
	)
	_, err := h.Lending.HandOver(ctx, h.director, h.handing(ode, "VN-01"))
	require.NoError(t, err)
	assert.Contains(t, h.proposed()["rental-ends VN-01"].Subject, "14 December 2026")
	day, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	require.Len(t, day.DueBack, 1)
	assert.Equal(t, "Hollin Hire House", day.DueBack[0].Owner)
	_, err = h.Lending.Return(
		ctx,
		h.director,
		h.id("VN-01"),
		lending.Returning{
			Charge: &lending.ChargeDecision{Damage: lending.Damage{RepairCents: 1, Avoidable: true}, AmountCents: 1, Reason: "x"},
		},
	)
	assert.Contains(
		t,
		fault(t, err, journal.Invalid).Fields[0].Message,
		"the owner is told",
		"the school does not charge for what is not its own",
	)

	// The owner brings another; the player plays on, and the old one is in no list.
	old := h.id("VN-01")
	_, err = h.Rentals.ExchangeRental(ctx, h.director, old, rentals.Exchange{ID: uuid.New(), Tag: "vn-02"})
	assert.Equal(t, "tag", fault(t, err, journal.Invalid).Fields[0].Path, "that tag is taken")
	_, err = h.Rentals.ExchangeRental(ctx, h.director, old, rentals.Exchange{ID: uuid.New(), Tag: "vn-31", Serial: "77"})
	require.NoError(t, err)
	assert.Equal(t, "Ode Marchetti", h.listed("VN-31").Holder)
	list, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	for _, i := range list {
		assert.NotEqual(t, "VN-01", i.Tag)
	}
	gone, err := h.Inventory.File(ctx, h.director, old)
	require.NoError(t, err, "its file stays")
	assert.Contains(t, gone.Instrument.GoneHow, "in exchange for VN-31")
	_, err = h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ilse.ID, InstrumentID: old}}})
	fault(t, err, journal.Invalid)
	_, err = h.Rentals.ExchangeRental(ctx, h.director, h.id("VN-02"), rentals.Exchange{ID: uuid.New(), Tag: "VN-32"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "the school's own")

	_, err = h.Rentals.Leave(ctx, h.director, h.id("VN-31"), rentals.Leaving{How: "Given back"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Take it back first")
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-31"), lending.Returning{})
	require.NoError(t, err)
	_, err = h.Rentals.Leave(ctx, h.director, h.id("VN-31"), rentals.Leaving{How: "Given back"})
	require.NoError(t, err)
	rentals, err := h.Rentals.Rentals(ctx, h.director)
	require.NoError(t, err)
	assert.Empty(t, rentals.Rented)
	for _, e := range gone.Timeline {
		if strings.HasPrefix(e.Sentence, "Handed out") {
			_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: []uuid.UUID{e.ID}})
			assert.Contains(t, fault(t, err, journal.Conflict).Message, "not at the school any more")
		}
	}
	h.bring("tag,kind,size,care_from\nVN-31,violin,4/4,2026-11-01\n")
	assert.Empty(t, h.listed("VN-31").Holder, "the next one may carry its tag")
}

// The rental order has months and money: until the school year ends, begun months whole.
func TestTheRentalOrderInMoney(t *testing.T) {
	h, _, _ := desk(t)
	h.bring("tag,kind,size,care_from\nTU-01,tuba,4/4,2026-11-01\n")
	require.NoError(
		t,
		h.Settings.SavePeriod(
			ctx,
			h.director,
			schoolrows.Terms,
			schoolrows.Period{ID: uuid.New(), Name: "Year", StartsOn: thisDay - 30, EndsOn: thisDay + 100},
		),
	)
	require.NoError(
		t,
		h.Rentals.SaveRentalPrices(
			ctx,
			h.director,
			[]instrumentrows.RentalPrice{{Kind: "violin", MonthlyCents: 1500}, {Kind: "violin", Size: "3/4", MonthlyCents: 1200}},
		),
	)
	assert.Equal(
		t,
		"prices[1].kind",
		fault(t, h.Rentals.SaveRentalPrices(ctx, h.director, []instrumentrows.RentalPrice{{Kind: "tuba"}, {Kind: "tuba"}}),
			journal.Invalid).Fields[0].Path,
	)
	p := playerrows.Player{ID: uuid.New(), GivenName: "Fen", Kind: "tuba", Transport: "bus"}
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, p))
	_, err := h.Rentals.Leave(ctx, h.director, h.id("VN-02"), rentals.Leaving{How: "Sold."})
	require.NoError(t, err)
	got, err := h.Placing.Propose(ctx, h.director, placing.Wish{Weights: even})
	require.NoError(t, err)
	require.Len(t, got.Order, 1)
	assert.Equal(
		t,
		[]any{"Violin", "3/4", 1, 4, int64(1200), int64(4800)},
		[]any{
			got.Order[0].KindName,
			got.Order[0].Size,
			got.Order[0].Count,
			got.Order[0].Months,
			*got.Order[0].MonthlyCents,
			*got.Order[0].Cents,
		},
	)
	require.Len(t, got.AtHome, 1, "a tuba on the bus")
	assert.Nil(t, got.AtHome[0].Cents, "nobody knows what a tuba costs")
}
