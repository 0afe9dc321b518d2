package e2e

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
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
	helper.fillIn("Choose a second factor", "Your password", demo.Password)
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

// A director makes a passkey, signs in with it and takes it away; the device is Chromium's own simulated one, and the address a name, as
// passkeys need it.
func TestAPasskeyOnTheScreen(t *testing.T) {
	p := startAs(t, "demo", morning, program{local: true})
	b := p.open(1280, 800)
	_, port, _ := strings.Cut(p.address, ":")
	b.base = "http://localhost:" + port
	b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if _, err := cdp.Call(ctx, t, webauthn.Enable, webauthn.EnableParams{}); err != nil {
			return err
		}
		_, err := cdp.Call(ctx, t, webauthn.AddVirtualAuthenticator, webauthn.AddVirtualAuthenticatorParams{
			Options: &webauthn.VirtualAuthenticatorOptions{
				Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal,
				HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true,
			},
		})
		return err
	}))
	leave := func() {
		b.evaluate("window.signedIn = true")
		b.click("button", "Sign out")
		b.until("window.signedIn === undefined", "the page is not loaded anew")
		b.await("field", "E-mail address", "")
	}
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/cards")
	b.see("can be opened on this machine only, so it goes on no paper")
	b.seeNot("Print 160 cards")
	b.visit("/settings/people")
	b.fill("What you call the device", "The telephone")
	b.fillIn("New passkey", "Your password", "not the password")
	b.click("button", "Make a passkey")
	b.see("is not your password")
	b.fillIn("New passkey", "Your password", demo.Password)
	b.click("button", "Make a passkey")
	b.await("button", "Take The telephone away", "")

	leave()
	b.click("button", "sign in with a passkey")
	b.await("link", "Today", "")

	b.visit("/settings/people")
	b.click("button", "Take The telephone away")
	b.fillIn("Passkeys", "Your own password", demo.Password)
	b.click("button", "Take it away")
	b.seeNot("The telephone")
	leave()
	b.click("button", "sign in with a passkey")
	b.see("This passkey is not known here, or was taken away. Sign in with your password.")
}
