package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// A roster with foreign column names comes in, the program proposes who gets what with its reasons, one pair is pinned and one
// ruled out, instruments are handed out and one comes back.
func TestFromARosterToEverybodyPlaying(t *testing.T) {
	t.Parallel()
	_, b := school(
		t,
		"tag,kind,size,care_from,last:strings-term-check",
		"VN-01,violin,4/4,2026-06-01,2026-11-01",
		"VN-02,violin,3/4,2026-06-01,2026-11-01",
		"VN-03,violin,3/4,2026-06-01,2026-11-01",
	)
	roster := filepath.Join(t.TempDir(), "roster.csv")
	require.NoError(
		t,
		os.WriteFile(
			roster,
			[]byte(
				"Id;Vorname;Nachname;Klasse;Gruppen;Instrument;Ärmel\np1;Ode;Marchetti;7;String orchestra;violin;60\np2;Ilse;Quandt;8;String orchestra;violin;57,5\np3;Bram;Osei;8;;violin;57\np4;Tiva;Lorne;6;;violin;50\n",
			),
			0o600,
		),
	)
	b.click("link", "Hand-out")
	b.see("Bring a roster in")
	b.click("link", "Roster")
	b.upload("Roster file", roster)
	b.see("Not read: ärmel")
	b.fill("What ärmel is", "arm_length_cm")
	b.until("!document.body.innerText.includes('Not read')", "the sleeve is not read")
	b.see("Dry run: 4 new, 0 changed, 0 as before.")
	b.see("New ensembles will be made: String orchestra.")
	b.click("button", "Import 4 players")
	b.see("Imported: 4 new")

	b.click("link", "Players")
	b.see("Ode Marchetti")
	b.see("fits 4/4")
	b.see("waits for one")
	b.click("link", "Propose")
	b.see("3 pairs proposed, 1 without")
	b.see("Tiva Lorne")
	b.see("To rent or buy")
	b.click("button", "Pin: Ilse Quandt, VN-03")
	b.until(
		`document.querySelector('[aria-label="Pin: Ilse Quandt, VN-03"]')?.getAttribute('aria-pressed') === 'true'`,
		"the pair is not pinned",
	)
	b.click("button", "Not this one: Bram Osei, VN-02")
	b.see("1 pair ruled out.")
	b.see("one larger than the chart's 3/4")
	b.click("button", "allow them again")
	b.await("link", "Hand out: Bram Osei, VN-02", "")
	b.handOver("Ode Marchetti", "VN-01")
	b.click("link", "Next player")
	b.click("button", "Hand out all 2")
	b.see("2 instruments handed out.")
	b.see("0 pairs proposed, 1 without")

	b.scan("VN-01")
	b.see("in the hands of Ode Marchetti")
	b.see("Handed out to Ode Marchetti")
	b.takeBack("VN-01")
	b.see("Came back from Ode Marchetti")

	// A player is changed by hand; what cannot be is named and what was typed stays.
	b.click("link", "Hand-out")
	b.click("link", "Players")
	b.click("button", "Change Tiva Lorne")
	b.fill("Given name", " ")
	b.click("button", "Save")
	b.see("give the player a name")
	b.fill("Given name", "Tiva")
	b.fill("Arm, neck to mid-palm, cm, measured today", "56.5")
	b.click("button", "Save")
	b.see("Saved.")
	b.see("fits 3/4")

	// The same roster again changes nothing but who is missing.
	require.NoError(
		t,
		os.WriteFile(
			roster,
			[]byte("external_id,given_name,family_name,grade_year\np1,Ode,Marchetti,7\np2,Ilse,Quandt,8\np4,Tiva,Lorne,6\n"),
			0o600,
		),
	)
	b.click("link", "Roster")
	b.upload("Roster file", roster)
	b.see("Dry run: 0 new, 0 changed, 3 as before.")
	b.see("In no roster any more: Bram Osei (has VN-02).")

	// He is gone for good: his violin comes back, and then he is forgotten.
	b.click("link", "Players")
	b.click("button", "Change Bram Osei")
	b.click("checkbox", "has left")
	b.click("button", "Save")
	b.see("left 24 Nov")
	b.click("button", "Change Bram Osei")
	b.click("button", "Erase…")
	b.click("button", "Erase for good: no way back")
	b.see("Bram Osei still has VN-02. Take it back first.")
	b.scan("VN-02")
	b.takeBack("VN-02")
	b.see("Came back from Bram Osei")
	b.click("link", "Hand-out")
	b.click("link", "Players")
	b.click("button", "Change Bram Osei")
	b.click("button", "Erase…")
	b.click("button", "Erase for good: no way back")
	b.see("Erased. The instruments keep their history.")
	b.seeNot("Bram Osei")
	b.scan("VN-02")
	b.see("Handed out to a player")
	b.seeNot("Bram Osei")
}
