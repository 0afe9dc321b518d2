// Package officetest makes workbooks with a real spreadsheet program, Debian's LibreOffice Calc, for tests.
package officetest

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// Workbook is what the program makes of a CSV file that a person in Britain opens and saves as XLSX: it takes what looks like a day or a
// number for one, but for the columns that are named as text, the first being 1. The file's name is that of its sheet.
func Workbook(t testing.TB, name, csv string, text ...string) (path string) {
	t.Helper()
	const program = "/usr/bin/soffice"
	require.FileExists(t, program, "scripts/packages test installs it")
	folder := t.TempDir()
	file := filepath.Join(folder, name+".csv")
	require.NoError(t, os.WriteFile(file, []byte(csv), 0o600))
	columns := ""
	for n, column := range text {
		if n > 0 {
			columns += "/"
		}
		columns += column + "/2"
	}
	// Tokens of the filter: comma, quotation mark, UTF-8, from line 1, columns as text, English (UK), recognise special numbers.
	convert := exec.Command(program, "-env:UserInstallation=file://"+folder+"/profile", "--headless", "--convert-to", "xlsx",
		"--infilter=CSV:44,34,76,1,"+columns+",2057,false,true", "--outdir", folder, file)
	out, err := convert.CombinedOutput()
	require.NoError(t, err, string(out))
	return filepath.Join(folder, name+".xlsx")
}
