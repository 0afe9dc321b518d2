package money

import (
	_ "embed"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/language"
	"pgregory.net/rapid"
)

// The same amounts are read by the forms of the front end: web/src/words.test.ts.
//
//go:embed testdata/amounts.json
var amounts []byte

func TestParse(t *testing.T) {
	var table []struct {
		Typed    string
		Currency Currency
		Cents    int64
		Refused  string
	}
	require.NoError(t, json.Unmarshal(amounts, &table))
	for _, a := range table {
		t.Run(string(a.Currency)+" "+a.Typed, func(t *testing.T) {
			cents, err := a.Currency.Parse(a.Typed)
			if a.Refused != "" {
				assert.ErrorContains(t, err, a.Refused)
				return
			}
			require.NoError(t, err)
			assert.Equal(t, a.Cents, cents)
		})
	}
}

// ISO 4217, list one: decimals of the euro, the yen, the dinar of Kuwait, and of one that golang.org/x/text does not know.
func TestCurrencies(t *testing.T) {
	for typed, decimals := range map[string]int{"eur": 2, " JPY ": 0, "KWD": 3, "TND": 3, "SLE": 2, "XPF": 0, "CHF": 2} {
		c, err := CurrencyOf(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, decimals, c.Decimals(), typed)
	}
	for _, none := range []string{"", "EU", "EURO", "ABC", "XXX", "XTS", "XAU", "€"} {
		_, err := CurrencyOf(none)
		assert.ErrorContains(t, err, "no currency", none)
	}
}

func TestAmountsAreWritten(t *testing.T) {
	assert.Equal(t, "1250.00", Currency("EUR").Plain(125000))
	assert.Equal(t, "-0.05", Currency("EUR").Plain(-5))
	assert.Equal(t, "-9223372036854775808", Currency("JPY").Plain(-1<<63))
	assert.Equal(t, "0.005", Currency("KWD").Plain(5))
	assert.Equal(t, "1250 JPY", Currency("JPY").Say(1250))
	assert.Equal(t, "12.50", Currency("").Say(1250), "of no currency it is a number")
	assert.Contains(t, Currency("JPY").In(language.English, 1250), "1,250")
	assert.NotContains(t, Currency("JPY").In(language.English, 1250), ".")
	assert.Contains(t, Currency("EUR").In(language.German, 125050), "1.250,50")
	assert.Contains(t, Currency("SLE").In(language.English, 125050), "1,250.50 SLE")
}

// What is written is read again as the same, whatever the currency.
func TestWhatIsWrittenIsRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := rapid.SampledFrom([]Currency{"EUR", "JPY", "KWD", "USD", "SLE", "CLF"}).Draw(t, "currency")
		cents := rapid.Int64Range(0, most).Draw(t, "cents")
		for _, text := range []string{c.Plain(cents), c.Say(cents)} {
			got, err := c.Parse(text)
			require.NoError(t, err)
			require.Equal(t, cents, got)
		}
	})
}

func TestReadings(t *testing.T) {
	for text, want := range map[string][2]string{ // with a comma as the mark of the fraction, with a point
		"1250": {"1250", "1250"}, "1250,5": {"1250.5", ""}, "1250.50": {"", "1250.50"}, "1,250": {"1.250", "1250"},
		"1.250":      {"1250", "1.250"},
		"1.250,00 €": {"1250.00", ""}, "$1,250.00": {"", "1250.00"}, "1 250,00": {"1250.00", ""}, "1'250.–": {"1250", "1250"},
		"12,-":      {"12", "12"},
		"1.250.000": {"1250000", ""}, "0,125": {"0.125", ""}, "-5": {"-5", "-5"},
	} {
		comma, point, ok := Readings(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, [2]string{comma, point}, text)
	}
	for _, text := range []string{"", "-", "1e5", "twelve", "1,2,3", "1.2,3.4", "12 and a half"} {
		comma, point, _ := Readings(text)
		assert.Empty(t, comma+point, text)
	}
}
