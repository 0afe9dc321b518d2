// Package money reads and writes amounts. An amount is a whole number of the smallest unit of its currency: cents of the euro, yen, fils of
// the dinar. Everywhere in the program such a number is called cents, whatever the currency calls it; how many of them make one is decided
// here and nowhere else.
//
// How many decimals a currency has comes from golang.org/x/text, which takes it from the Unicode CLDR; a few currencies that are newer than
// its tables stand below, after ISO 4217.
package money

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/currency"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
)

// A Currency is the code of one, such as EUR. The zero value is a currency of which nothing is known but that it has two decimals.
type Currency string

// newer are the currencies that golang.org/x/text lacks (ISO 4217, list one, amendments 169 to 177; codes and decimals from memory).
var newer = map[Currency]int{"MRU": 2, "SLE": 2, "UYW": 4, "VED": 2, "VES": 2, "XCG": 2, "ZWG": 2}

// money of several countries, whose codes begin with X as those of metals and tests do
var shared = map[Currency]bool{"XAF": true, "XCD": true, "XCG": true, "XOF": true, "XPF": true}

// CurrencyOf reads the code of a currency, in whatever letters it is typed.
func CurrencyOf(typed string) (Currency, error) {
	c := Currency(strings.ToUpper(strings.TrimSpace(typed)))
	_, known := newer[c]
	if !known {
		_, err := currency.ParseISO(string(c))
		known = err == nil
	}
	if !known || len(c) == 3 && c[0] == 'X' && !shared[c] {
		return "", errors.New("is no currency of ISO 4217; use its three letters, such as EUR")
	}
	return c, nil
}

// Decimals is how many digits stand behind the point: 2 for EUR, 0 for JPY, 3 for KWD.
func (c Currency) Decimals() int {
	if n, ok := newer[c]; ok {
		return n
	}
	unit, err := currency.ParseISO(string(c))
	if err != nil {
		return 2
	}
	n, _ := currency.Standard.Rounding(unit)
	return n
}

// Plain writes an amount with nothing but its digits and a point: 1250.00. Parse reads it, and so do spreadsheets.
func (c Currency) Plain(cents int64) string {
	n := c.Decimals()
	text := fmt.Sprintf("%0*d", n+1, magnitude(cents))
	if n > 0 {
		text = text[:len(text)-n] + "." + text[len(text)-n:]
	}
	if cents < 0 {
		text = "-" + text
	}
	return text
}

func magnitude(cents int64) uint64 {
	if cents < 0 {
		return -uint64(cents)
	}
	return uint64(cents)
}

// Say writes an amount for a sentence: 1250.00 EUR.
func (c Currency) Say(cents int64) string { return strings.TrimSpace(c.Plain(cents) + " " + string(c)) }

// In writes an amount as people of a language do, with the currency's sign: € 1,250.00.
func (c Currency) In(tag language.Tag, cents int64) string {
	unit, err := currency.ParseISO(string(c))
	if err != nil {
		return message.NewPrinter(tag).Sprintf("%.*f %s", c.Decimals(), float64(cents)/math.Pow10(c.Decimals()), string(c))
	}
	return message.NewPrinter(tag).Sprint(currency.Symbol(unit.Amount(float64(cents) / math.Pow10(c.Decimals()))))
}

// An Ambiguous text is an amount in two ways: a mark before its last three digits may divide thousands or a fraction.
type Ambiguous struct{ One, Other string }

func (e *Ambiguous) Error() string {
	return fmt.Sprintf("may be %s or %s; write one of these", e.One, e.Other)
}

// most is the largest amount that is read, in the smallest unit.
const most = 100_000_000_000

// Parse reads an amount that somebody typed, with a point or a comma, marks between thousands, the currency's code or a sign of money: 1250,
// 1,250.00, 1.250,00, 1'250.–, € 12. What may be read in two ways is an *Ambiguous. Errors are sentences that begin with what
// the text does: "is no amount", "is below zero".
func (c Currency) Parse(typed string) (int64, error) {
	text := strings.ToUpper(strings.TrimSpace(typed))
	text = strings.TrimSpace(strings.TrimSuffix(strings.TrimPrefix(text, string(c)), string(c)))
	comma, point, ok := Readings(text)
	switch {
	case !ok:
		return 0, fmt.Errorf("is no amount; write it as %s", c.Plain(c.Cents(120)))
	case strings.HasPrefix(comma+point, "-"):
		return 0, errors.New("is below zero")
	}
	if comma == "" || c.Decimals() == 3 && text == point { // as it is written here
		return c.exactly(point)
	}
	cents, err := c.exactly(comma)
	if point == "" {
		return cents, err
	}
	switch other, otherErr := c.exactly(point); {
	case err != nil:
		return other, otherErr
	case otherErr == nil && cents != other:
		return 0, &Ambiguous{c.Plain(max(cents, other)), c.Plain(min(cents, other))}
	}
	return cents, nil
}

// exactly is a number such as 1250.5 in the smallest unit.
func (c Currency) exactly(number string) (int64, error) {
	whole, fraction, _ := strings.Cut(number, ".")
	n := c.Decimals()
	if len(strings.TrimRight(fraction, "0")) > n {
		if n == 0 {
			return 0, fmt.Errorf("has a fraction, and %s has none", c)
		}
		return 0, fmt.Errorf("has more than the %d decimals of %s", n, c)
	}
	cents, err := strconv.ParseInt(whole+(fraction + "000000")[:n], 10, 64)
	if err != nil || cents > most {
		return 0, errors.New("is more than can be kept")
	}
	return cents, nil
}

// Cents is a number of units, such as 12.5, in the smallest one, rounded half away from zero.
func (c Currency) Cents(units float64) int64 {
	return int64(math.Round(units * math.Pow10(c.Decimals())))
}

// Readings are the numbers that a text may mean, such as 1250.5: with a comma before its fraction, and with a point. One that it cannot mean
// is empty; ok is false where both are. Spaces, apostrophes and signs of money are passed over, and what stands for no fraction: 12.–
func Readings(text string) (comma, point string, ok bool) {
	bare := strings.Map(func(c rune) rune {
		if unicode.IsSpace(c) || unicode.Is(unicode.Sc, c) || c == '\'' || c == '’' {
			return -1
		}
		return c
	}, text)
	for _, end := range []string{".-", ",-", ".–", ",–", ",--"} {
		bare = strings.TrimSuffix(bare, end)
	}
	digits := strings.TrimPrefix(bare, "-")
	if strings.Trim(digits, ".,") == "" || strings.Trim(digits, "0123456789.,") != "" {
		return "", "", false
	}
	comma, point = reading(bare, ",", "."), reading(bare, ".", ",")
	return comma, point, comma != "" || point != ""
}

// reading is the number that a text means when these marks divide its fraction and its thousands; empty when it then means none.
func reading(bare, decimal, thousands string) string {
	whole, fraction, _ := strings.Cut(bare, decimal)
	if strings.Contains(fraction, thousands) || strings.Contains(fraction, decimal) {
		return ""
	}
	groups := strings.Split(strings.TrimPrefix(whole, "-"), thousands)
	for n, g := range groups {
		if n > 0 && len(g) != 3 || n == 0 && len(groups) > 1 && (g == "" || len(g) > 3 || g[0] == '0') {
			return ""
		}
	}
	number := strings.ReplaceAll(whole, thousands, "")
	if number == "" || number == "-" {
		number += "0"
	}
	if fraction != "" {
		number += "." + fraction
	}
	return number
}
