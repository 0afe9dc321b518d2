package formats

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"
)

// A Roster is who is in which class, as another program of the school writes it.
type Roster struct {
	Rows    int
	Players []RosterPlayer
	Remarks []string // what was left out and why
}

// A RosterPlayer is one pupil of a roster.
type RosterPlayer struct {
	Line       int
	ExternalID string
	GivenName  string
	FamilyName string
	GradeYear  string
	Ensembles  []string // names of classes
	Guardian   string   // how to reach them
}

// Bounds of a roster archive: what it may hold when it is unpacked.
const (
	MaxRosterBytes  = 20 << 20
	maxRosterFiles  = 40
	maxUnpackedFile = MaxTableBytes
)

// IsRoster reports whether a file is an archive of tables, and not the archive that a workbook is.
func IsRoster(content []byte) bool {
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	return IsZip(content) && (err != nil || !slices.ContainsFunc(z.File, func(f *zip.File) bool { return f.Name == "[Content_Types].xml" }))
}

// ReadOneRoster reads the pupils of a OneRoster 1.1 CSV archive (1EdTech, "OneRoster 1.1 CSV Tables"; field names from
// memory): users.csv with role student, their enrollments.csv, the titles in classes.csv, and the addresses of those whom
// agentSourcedIds names. Other files may be there and are left alone. What is marked tobedeleted does not count, nor does a user who is
// not enabled; an enrollment in no known class is left out and said.
func ReadOneRoster(archive []byte) (Roster, []Fault, error) {
	if len(archive) > MaxRosterBytes {
		return Roster{}, nil, Fault{Message: fmt.Sprintf("the file is larger than %d MB", MaxRosterBytes>>20)}
	}
	z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	if err != nil {
		return Roster{}, nil, Fault{Message: "this is not a zip archive, or it is damaged"}
	}
	if len(z.File) > maxRosterFiles {
		return Roster{}, nil, Fault{
			Message: fmt.Sprintf("the archive holds %d files; a roster has at most %d", len(z.File), maxRosterFiles),
		}
	}
	var faults []Fault
	read := func(name string, needed ...string) (Table, error) {
		t, more, err := readArchived(z, name)
		if err != nil {
			return t, err
		}
		for _, f := range more {
			f.Column = name + " " + f.Column
			faults = append(faults, f)
		}
		for _, column := range needed {
			if !slices.Contains(t.Columns, strings.ToLower(column)) {
				return t, Fault{Row: 1, Column: name + " " + column, Message: "is missing from the header"}
			}
		}
		return t, nil
	}
	users, err := read("users.csv", "sourcedId", "role", "givenName", "familyName")
	if err != nil {
		return Roster{}, nil, err
	}
	classes, err := read("classes.csv", "sourcedId", "title")
	if err != nil {
		return Roster{}, nil, err
	}
	enrollments, err := read("enrollments.csv", "classSourcedId", "userSourcedId", "role")
	if err != nil {
		return Roster{}, nil, err
	}
	titles := map[string]string{}
	for _, r := range classes.Rows {
		if !active(r) {
			continue
		}
		titles[rosterCell(r, "sourcedId")] = rosterCell(r, "title")
		if rosterCell(r, "title") == "" {
			faults = append(faults, Fault{Row: r.Line, Column: "classes.csv title", Message: "is empty"})
		}
	}
	roster := Roster{}
	strayed := 0
	classesOf := map[string][]string{}
	for _, r := range enrollments.Rows {
		if !active(r) || rosterCell(r, "role") != "student" {
			continue
		}
		title, known := titles[rosterCell(r, "classSourcedId")]
		if !known {
			strayed++
			continue
		}
		user := rosterCell(r, "userSourcedId")
		if !slices.Contains(classesOf[user], title) {
			classesOf[user] = append(classesOf[user], title)
		}
	}
	if strayed > 0 {
		roster.Remarks = append(roster.Remarks, fmt.Sprintf("Left out: enrollments in a class that is not in classes.csv, %d of them.", strayed))
	}
	addresses := map[string]string{}
	for _, r := range users.Rows {
		if email := rosterCell(r, "email"); active(r) && rosterCell(r, "role") != "student" && email != "" {
			addresses[rosterCell(r, "sourcedId")] = email
		}
	}
	seen := map[string]int{}
	disabled := 0
	for _, r := range users.Rows {
		if !active(r) || rosterCell(r, "role") != "student" {
			continue
		}
		if strings.EqualFold(rosterCell(r, "enabledUser"), "false") {
			disabled++
			continue
		}
		roster.Rows++
		p := RosterPlayer{
			r.Line,
			rosterCell(r, "sourcedId"),
			rosterCell(r, "givenName"),
			rosterCell(r, "familyName"),
			rosterCell(r, "grades"),
			classesOf[rosterCell(r, "sourcedId")],
			guardiansOf(r, addresses),
		}
		switch first, twice := seen[p.ExternalID]; {
		case p.ExternalID == "":
			faults = append(faults, Fault{Row: r.Line, Column: "users.csv sourcedId", Message: "is empty"})
		case twice:
			faults = append(faults, Fault{Row: r.Line, Column: "users.csv sourcedId", Value: p.ExternalID,
				Message: fmt.Sprintf("stands in row %d already", first)})
		case p.GivenName == "" && p.FamilyName == "":
			faults = append(faults, Fault{Row: r.Line, Column: "users.csv givenName", Message: "has no name"})
		}
		seen[p.ExternalID] = r.Line
		roster.Players = append(roster.Players, p)
	}
	if disabled > 0 {
		roster.Remarks = append(roster.Remarks, fmt.Sprintf("Left out: students who are not enabled (enabledUser), %d of them.", disabled))
	}
	return roster, faults, nil
}

func guardiansOf(student Row, addresses map[string]string) string {
	var emails []string
	for _, id := range strings.Split(rosterCell(student, "agentSourcedIds"), ",") {
		if email := addresses[strings.TrimSpace(id)]; email != "" && !slices.Contains(emails, email) {
			emails = append(emails, email)
		}
	}
	return strings.Join(emails, ", ")
}

func rosterCell(r Row, column string) string {
	text, _ := r.Cell(strings.ToLower(column))
	return text
}

func active(r Row) bool { return rosterCell(r, "status") != "tobedeleted" }

// readArchived reads one table of an archive, in whatever folder it lies.
func readArchived(z *zip.Reader, name string) (Table, []Fault, error) {
	for _, f := range z.File {
		if !strings.EqualFold(path.Base(f.Name), name) {
			continue
		}
		if f.UncompressedSize64 > maxUnpackedFile {
			return Table{}, nil, Fault{Message: fmt.Sprintf("%s is larger than %d MB when unpacked", name, maxUnpackedFile>>20)}
		}
		r, err := f.Open()
		if err != nil {
			return Table{}, nil, Fault{Message: name + " cannot be unpacked"}
		}
		defer r.Close()
		// The size in the directory may be a lie; ReadTable stops at its own bound.
		t, faults, err := ReadTable(r)
		var whole Fault
		switch {
		case errors.As(err, &whole):
			whole.Message = name + ": " + whole.Message
			return t, nil, whole
		case errors.Is(err, zip.ErrChecksum), errors.Is(err, zip.ErrFormat), errors.Is(err, io.ErrUnexpectedEOF):
			return t, nil, Fault{Message: name + " is damaged"}
		}
		return t, faults, err
	}
	return Table{}, nil, Fault{Message: name + " is not in the archive"}
}
