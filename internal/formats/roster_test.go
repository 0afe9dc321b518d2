package formats

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every field of the tables, in the order of "OneRoster 1.1 CSV Tables" by 1EdTech (from memory).
var oneRoster = map[string]string{
	"manifest.csv": "propertyName,value\nmanifest.version,1.0\noneroster.version,1.1\nfile.users,bulk\nfile.classes,bulk\nfile.enrollments,bulk\n",
	"users.csv": "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password\n" +
		"p1,,,true,q,student,ode,,Ode,Marchetti,,,,,,,07,\n" +
		"p2,active,2026-08-01T00:00:00.000Z,true,q,student,ilse,,Ilse,Quandt,,,,,,\"t1,g1\",08,\n" +
		"p4,,,false,q,student,off,,Oda,Lund,,,,,,,08,\n" +
		"g1,,,true,q,guardian,lena,,Lena,Quandt,,,lena@quandt.example,,,,,\n" +
		"p3,tobedeleted,,true,q,student,gone,,Bram,Osei,,,,,,,08,\n" +
		"t1,,,true,q,teacher,ines,,Ines,Corvane,,,,,,,,\n",
	"classes.csv": "sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods\n" +
		"c1,,,String orchestra,,k1,,scheduled,,q,a1,,,\nc2,,,Wind band,,k2,,scheduled,,q,a1,,,\n",
	"enrollments.csv": "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate\n" +
		"e1,,,c1,q,p1,student,,,\ne2,,,c2,q,p1,student,,,\ne3,,,c2,q,p2,student,,,\ne4,,,c1,q,t1,teacher,true,,\ne5,tobedeleted,,c1,q,p2,student,,,\ne6,,,c9,q,p2,student,,,\n",
	"orgs.csv": "sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId\nq,,,Quillhaven Community School,school,,\n",
}

func archive(t *testing.T, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func changed(name, old, new string) map[string]string {
	files := map[string]string{}
	for k, v := range oneRoster {
		files[k] = v
	}
	files[name] = strings.Replace(files[name], old, new, 1)
	return files
}

func TestReadOneRoster(t *testing.T) {
	got, faults, err := ReadOneRoster(archive(t, oneRoster))
	require.NoError(t, err)
	assert.Empty(t, faults)
	assert.Equal(t, Roster{Rows: 2, Players: []RosterPlayer{
		{2, "p1", "Ode", "Marchetti", "07", []string{"String orchestra", "Wind band"}, ""},
		{3, "p2", "Ilse", "Quandt", "08", []string{"Wind band"}, "lena@quandt.example"},
	}, Remarks: []string{
		"Left out: enrollments in a class that is not in classes.csv, 1 of them.",
		"Left out: students who are not enabled (enabledUser), 1 of them.",
	}}, got)
	inFolder := map[string]string{}
	for name, text := range oneRoster {
		inFolder["export/"+name] = text
	}
	_, _, err = ReadOneRoster(archive(t, inFolder))
	require.NoError(t, err, "a folder in the archive does not matter")
}

func TestReadOneRosterRefuses(t *testing.T) {
	whole := archive(t, oneRoster)
	missing := changed("users.csv", "", "")
	delete(missing, "classes.csv")
	many := map[string]string{}
	for n := range maxRosterFiles + 1 {
		many[fmt.Sprint(n)] = ""
	}
	bomb := changed("users.csv", "", "")
	bomb["users.csv"] += strings.Repeat("\n", maxUnpackedFile+1)
	for name, tt := range map[string]struct {
		archive []byte
		want    string
	}{
		"no archive":     {[]byte("sourcedId,role\n"), "is not a zip archive"},
		"cut off":        {whole[:len(whole)-30], "is not a zip archive"},
		"a table less":   {archive(t, missing), "classes.csv is not in the archive"},
		"a column less":  {archive(t, changed("users.csv", "givenName", "firstName")), "users.csv givenName: is missing from the header"},
		"a thousand":     {archive(t, many), "holds 41 files"},
		"a bomb":         {archive(t, bomb), "users.csv is larger than 5 MB when unpacked"},
		"another letter": {archive(t, changed("users.csv", "Ode", "Od\x81")), "users.csv: holds a letter that cannot be read"},
	} {
		_, _, err := ReadOneRoster(tt.archive)
		assert.ErrorContains(t, err, tt.want, name)
	}
	for name, tt := range map[string]struct {
		files map[string]string
		want  Fault
	}{
		"a class without a title": {changed("classes.csv", "Wind band", ""), Fault{Row: 3, Column: "classes.csv title", Message: "is empty"}},
		"twice": {changed("users.csv", "p2,active", "p1,active"),
			Fault{Row: 3, Column: "users.csv sourcedId", Value: "p1", Message: "stands in row 2 already"}},
		"no name": {changed("users.csv", "Ode,Marchetti", ","),
			Fault{Row: 2, Column: "users.csv givenName", Message: "has no name"}},
		"a formula": {changed("users.csv", "Ode", "=1+1"),
			Fault{Row: 2, Column: "users.csv givenname", Value: "=1+1", Message: "looks like a formula; write its value"}},
	} {
		_, faults, err := ReadOneRoster(archive(t, tt.files))
		require.NoError(t, err, name)
		assert.Contains(t, faults, tt.want, name)
	}
	// A damaged byte anywhere is an error or a fault, never a crash.
	for at := 0; at < len(whole); at += 37 {
		damaged := bytes.Clone(whole)
		damaged[at] ^= 0xFF
		_, _, _ = ReadOneRoster(damaged)
	}
}
