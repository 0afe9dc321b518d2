package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// A director chooses a second factor, signs in with a code from paper, and asks for it of everybody: a helper chooses one before anything
// else, and is let in again after losing it.
func TestASecondFactorOnTheScreen(t *testing.T) {
	p := start(t, "demo", morning)
	director := p.open(1280, 800)
	director.signIn(demo.DirectorEmail, demo.Password)
	code := func(b *page, later time.Duration) string {
		b.until(`document.querySelector('form[aria-label="Choose a second factor"] .break-all') !== null`, "no secret is shown")
		secret := b.text(`document.querySelector('form[aria-label="Choose a second factor"] .break-all').innerText`)
		shown, err := totp.GenerateCode(strings.ReplaceAll(secret, " ", ""), morning.Add(later))
		require.NoError(t, err)
		return shown
	}
	director.visit("/settings/people")
	director.click("button", "Choose one")
	director.until(`document.querySelector('img[alt="The secret as a QR code"]')?.naturalWidth > 100`, "the picture is not there")
	paper := director.text(`document.querySelector('form[aria-label="Choose a second factor"] li').innerText`)
	director.fill("Code that the telephone shows now", "000000")
	director.fillIn("Choose a second factor", "Your password", demo.Password)
	director.click("button", "I have the codes on paper: turn it on")
	director.see("is the telephone's clock right?")
	director.fill("Code that the telephone shows now", code(director, 0))
	director.click("button", "I have the codes on paper: turn it on")
	director.see("10 codes left on paper")

	director.evaluate("window.signedIn = true")
	director.click("button", "Sign out")
	director.until("window.signedIn === undefined", "the page is not loaded anew")
	director.await("field", "E-mail address", "")
	director.fill("E-mail address", demo.DirectorEmail)
	director.fill("Password", demo.Password)
	director.click("button", "Sign in")
	director.see("Type the code that your telephone shows now, or one from paper.")
	director.await("field", "Code of your telephone, or from paper", "")
	director.fill("Code of your telephone, or from paper", paper)
	director.click("button", "Sign in")
	director.await("link", "Today", "")
	director.visit("/settings")
	director.choose("Who is asked for a code of their telephone beside the password", "everybody")
	director.click("button", "Save")
	director.see("Saved.")

	helper := p.open(390, 844)
	helper.visit("/")
	helper.await("field", "E-mail address", "")
	helper.fill("E-mail address", demo.HelperEmail)
	helper.fill("Password", demo.Password)
	helper.click("button", "Sign in")
	helper.see("One step before you go on")
	helper.seeNot("Can't play")
	helper.fill("Code that the telephone shows now", code(helper, 0))
	helper.fill("Your password", demo.Password)
	helper.click("button", "I have the codes on paper: turn it on")
	helper.await("link", "Today", "")

	director.visit("/settings/people")
	director.click("button", "Lost telephone: "+"Pell Arrowby")
	director.fill("Your own password", demo.Password)
	director.click("button", "Take the second factor away")
	director.seeNot("has lost telephone and paper")
	helper.visit("/")
	helper.see("Sign in")
}
