package app_test

import (
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/day"
	coreshop "solfeggio/internal/core/shop"
	"solfeggio/internal/store/shoprows"
)

// repair gives an instrument to a shop, or moves its job on by any step that may be taken.
func (s *weeksOfDeeds) repair(i school.Listed, file inventory.File) (name string, changed journal.Changed, err error) {
	board, err := s.Shop.Board(ctx, s.director)
	if err != nil {
		return "shops", changed, err
	}
	if len(board.Shops) == 0 {
		at := shoprows.RepairShop{ID: uuid.New(), Name: "Quoin Street Strings", Trades: []string{"strings", "woodwind"}, Way: shoprows.ByMessage}
		return "name a shop", changed, s.Shop.SaveShop(ctx, s.director, at)
	}
	if file.Job == nil {
		changed, err = s.Shop.Want(ctx, s.director, shop.Wanting{ID: uuid.New(), InstrumentID: i.ID, Origin: shoprows.ByHand, Asks: "It buzzes."})
		return "want a repair", changed, err
	}
	view, err := s.Shop.View(ctx, s.director, file.Job.ID)
	if err != nil {
		return "a job", changed, err
	}
	id, at := view.Job.ID, shop.At{Version: view.Job.Version}
	if view.Job.Shop == nil {
		changed, err = s.Shop.Change(ctx, s.director, id,
			shop.Asking{At: at, ShopID: &board.Shops[0].ID, Asks: "It buzzes.", Lines: view.Job.Lines})
		return "choose a shop", changed, err
	}
	step := pick(s.r, view.Steps)
	for _, forward := range []coreshop.Step{coreshop.Accept, coreshop.Send, coreshop.CheckIn} {
		if s.r.IntN(2) == 0 && slices.Contains(view.Steps, forward) {
			step = forward
		}
	}
	switch step {
	case coreshop.Accept:
		changed, err = s.Shop.Agree(ctx, s.director, id, at)
	case coreshop.Ask:
		changed, err = s.Shop.Ask(ctx, s.director, id, at)
	case coreshop.Quote:
		changed, err = s.Shop.TakeQuote(ctx, s.director, id, shop.Quoting{At: at, ID: uuid.New(), Currency: "EUR", TotalCents: 5000})
	case coreshop.Refuse:
		changed, err = s.Shop.Refuse(ctx, s.director, id, at)
	case coreshop.Book:
		tomorrow := day.Of(s.now) + 1
		changed, err = s.Shop.Book(ctx, s.director, id, shop.Booking{At: at, FetchedOn: &tomorrow})
	case coreshop.Unbook:
		changed, err = s.Shop.Unbook(ctx, s.director, id, at)
	case coreshop.Send:
		out := shop.Departure{At: at}
		if view.Loaner != nil && s.r.IntN(2) == 0 {
			loaner := uuid.MustParse(view.Loaner.Key)
			out.LoanerID = &loaner
		}
		changed, err = s.Shop.Send(ctx, s.director, id, out)
		return "send to the shop", changed, err
	case coreshop.Fetch:
		changed, err = s.Shop.Fetched(ctx, s.director, id, at)
	case coreshop.CheckIn:
		goes := pick(s.r, []shop.Goes{shop.ToPlayer, shop.ToSlot})
		changed, err = s.Shop.CheckIn(ctx, s.director, id, shop.CheckingIn{
			At: at, TotalCents: 5000, PlayTested: true, Goes: goes, Lines: make([]shop.CheckedLine, len(view.Job.Lines)),
		})
		return "check in", changed, err
	case coreshop.CallOff:
		changed, err = s.Shop.CallOff(ctx, s.director, id, shop.CallingOff{At: at})
	}
	return "move a repair on", changed, err
}
