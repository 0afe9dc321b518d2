package formats

import (
	"fmt"
	"io"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"
)

// A ScoreSheet is the work of a season for the wall: the score, then the same week by week in words.
type ScoreSheet struct {
	School, Heading, Below string
	Weeks                  []ScoreBar
	Staves                 []ScoreStaff
	Notes                  []ScoreNote
	List                   []ScoreWeek
}

// ScoreBar is a week of the score.
type ScoreBar struct {
	Name    string
	Rest    bool   // no school
	Concert string // at its end; empty for none
	Minutes float64
	Used    float64
	Trip    string // places taken of those there are; empty where no trip goes
}

// ScoreStaff is a section. Those of a family stand in one bracket.
type ScoreStaff struct{ Name, Family string }

// ScoreNote is work in one section and week.
type ScoreNote struct {
	Staff, Week, Back int // Back is the week in which it returns
	Shop              bool
	Early, Late       bool
	Pinned            bool
	Count             int
}

// ScoreWeek is a week in words.
type ScoreWeek struct {
	Heading string
	Lines   []string
}

// Paper is a size of paper, taken across.
type Paper string

// The papers.
const (
	A3 Paper = "a3"
	A4 Paper = "a4"
)

// across are a paper's width and height in millimetres, and into how many columns the list is set.
func (p Paper) across() (width, height float64, columns int) {
	if p == A3 {
		return 420, 297, 5
	}
	return 297, 210, 4
}

// WriteScoreSheet writes a sheet as PDF.
func WriteScoreSheet(w io.Writer, s ScoreSheet, paper Paper) error {
	width, height, columns := paper.across()
	pdf := fpdf.NewCustom(&fpdf.InitType{OrientationStr: "P", UnitStr: "mm", Size: fpdf.SizeType{Wd: width, Ht: height}})
	named(pdf, s.Heading)
	pdf.SetMargins(sheetEdge, sheetEdge, sheetEdge)
	pdf.SetAutoPageBreak(false, sheetEdge)
	t := newTypesetter(pdf)
	pdf.AddPage()
	d := scoreDrawing{ScoreSheet: s, typesetter: t, width: width, height: height}
	d.head()
	d.bars()
	d.staves()
	d.notes()
	d.foot()
	d.list(columns)
	if pdf.Err() {
		return fmt.Errorf("score of %s: %w", s.School, pdf.Error())
	}
	return pdf.Output(w)
}

// Lengths in millimetres. A staff has four lines; what is done at the bench stands over it, what goes to a shop in it.
const (
	sheetEdge  = 10.
	scoreLeft  = 44. // where the first bar begins
	scoreTop   = 41.
	footHeight = 24.
	lines      = 4
)

type scoreDrawing struct {
	ScoreSheet
	*typesetter
	width, height float64
}

func (d *scoreDrawing) right() float64 { return d.width - sheetEdge }

func (d *scoreDrawing) bar() float64 {
	return (d.right() - scoreLeft) / float64(max(1, len(d.Weeks)))
}

func (d *scoreDrawing) x(week int) float64 { return scoreLeft + float64(week)*d.bar() }

// apart is how far it is from staff to staff.
func (d *scoreDrawing) apart() float64 {
	return min(17, (d.height-sheetEdge-footHeight-scoreTop)/float64(max(1, len(d.Staves))))
}

func (d *scoreDrawing) gap() float64 { return d.apart() * 0.14 }

func (d *scoreDrawing) y(staff int) float64 { return scoreTop + (float64(staff)+0.35)*d.apart() }

func (d *scoreDrawing) end() float64 { return d.y(len(d.Staves)-1) + (lines-1)*d.gap() }

// ink draws in a shade of grey from now on; 0 is black.
func (d *scoreDrawing) ink(shade int, width float64) {
	d.pdf.SetDrawColor(shade, shade, shade)
	d.pdf.SetFillColor(shade, shade, shade)
	d.pdf.SetLineWidth(width)
}

// centred writes a text about x.
func (d *scoreDrawing) centred(x, y float64, style string, size float64, text string) {
	d.line(x-d.typesetter.width(style, size, text)/2, y, style, size, text)
}

// ended writes a text that ends at x.
func (d *scoreDrawing) ended(x, y float64, style string, size float64, text string) {
	d.line(x-d.typesetter.width(style, size, text), y, style, size, text)
}

func (d *scoreDrawing) head() {
	d.pdf.SetXY(sheetEdge, sheetEdge)
	d.paragraph(d.width-2*sheetEdge, 4.6, "", 9, d.School)
	d.paragraph(d.width-2*sheetEdge, 8.5, "B", 18, d.Heading)
	d.paragraph(d.width-2*sheetEdge, 4.6, "", 9, d.Below)
}

// bars are the weeks: breaks with their rests, concerts with double bar-lines.
func (d *scoreDrawing) bars() {
	for n, w := range d.Weeks {
		x := d.x(n)
		if w.Rest {
			d.ink(238, 0.2)
			d.pdf.Rect(x, scoreTop-3, d.bar(), d.end()-scoreTop+6, "F")
			d.ink(150, 0.3)
			for staff := range d.Staves {
				d.rest(x+d.bar()/2, d.y(staff))
			}
		}
		d.ink(190, 0.15)
		d.pdf.Line(x, d.y(0), x, d.end())
		d.centred(x+d.bar()/2, scoreTop-9, "", 7.5, w.Name)
		if w.Concert == "" {
			continue
		}
		d.ink(0, 0.3)
		d.pdf.Line(d.x(n+1)-1.6, d.y(0), d.x(n+1)-1.6, d.end())
		d.ink(0, 0.9)
		d.pdf.Line(d.x(n+1)-0.5, d.y(0), d.x(n+1)-0.5, d.end())
		half := d.typesetter.width("B", 8.5, w.Concert) / 2
		d.centred(min(d.right()-half, d.x(n+1)), scoreTop-4.5, "B", 8.5, w.Concert)
	}
	d.ink(190, 0.15)
	d.pdf.Line(d.right(), d.y(0), d.right(), d.end())
}

// rest is the sign of a week without school.
func (d *scoreDrawing) rest(x, y float64) {
	g := d.gap()
	points := [][2]float64{{-0.4, 0}, {0.5, 1}, {-0.3, 1.7}, {0.6, 2.6}, {-0.2, 2.4}, {0.1, 3.1}}
	for n := 1; n < len(points); n++ {
		d.pdf.Line(x+points[n-1][0]*g, y+points[n-1][1]*g, x+points[n][0]*g, y+points[n][1]*g)
	}
}

func (d *scoreDrawing) staves() {
	from := 0
	for n, s := range d.Staves {
		d.ink(190, 0.15)
		for l := range lines {
			y := d.y(n) + float64(l)*d.gap()
			d.pdf.Line(scoreLeft, y, d.right(), y)
		}
		d.ended(scoreLeft-5, d.y(n)+1.5*d.gap()+1, "", min(9, d.apart()*0.75), s.Name)
		if n == len(d.Staves)-1 || d.Staves[n+1].Family != s.Family {
			d.bracket(d.y(from), d.y(n)+(lines-1)*d.gap())
			from = n + 1
		}
	}
}

func (d *scoreDrawing) bracket(from, to float64) {
	d.ink(0, 0.8)
	x := scoreLeft - 2.2
	d.pdf.Line(x, from-0.6, x, to+0.6)
	d.pdf.Line(x, from-0.6, x+1.6, from-1.5)
	d.pdf.Line(x, to+0.6, x+1.6, to+1.5)
}

// notes stand side by side and above each other, two to a step, where a week has many.
func (d *scoreDrawing) notes() {
	type spot struct {
		staff, week int
		shop        bool
	}
	seen := map[spot]int{}
	r := min(d.gap()*0.85, d.bar()*0.16)
	for _, n := range d.Notes {
		at := spot{n.Staff, n.Week, n.Shop}
		column, step := seen[at]%2, float64(seen[at]/2)
		seen[at]++
		x := d.x(n.Week) + d.bar()*[]float64{0.27, 0.7}[column]
		y := d.y(n.Staff) - r*0.9 - step*r*1.9
		if n.Shop {
			y = d.y(n.Staff) + (lines-1)*d.gap() - r*0.2 + step*r*1.9
		}
		d.note(x, y, r, n)
	}
}

func (d *scoreDrawing) note(x, y, r float64, n ScoreNote) {
	if n.Back > n.Week { // a slur to the week in which it is back
		to := d.x(n.Back+1) - 0.6
		d.ink(150, 0.2)
		d.pdf.Curve(x+r, y+r*0.8, (x+to)/2, y+r*3, to, y+r*0.8, "D")
	}
	d.ink(0, 0.35)
	style := "FD"
	if n.Early {
		style = "D"
	}
	d.pdf.Ellipse(x, y, r*1.1, r*0.75, 20, style)
	if n.Late {
		d.pdf.Line(x-r, y-r*2.2, x+r, y-r*1.65)
		d.pdf.Line(x+r, y-r*1.65, x-r, y-r*1.1)
	}
	if n.Pinned {
		d.ink(0, 0.5)
		d.pdf.Line(x, y+r, x, y+r*2.4)
	}
	if n.Count > 1 {
		d.line(x+r*1.1, y-r*0.4, "", max(4.5, r*4), fmt.Sprint(n.Count))
	}
}

// foot shows what each week's bench holds and takes, the trips, and what the signs mean.
func (d *scoreDrawing) foot() {
	top := d.end() + d.apart()*0.45
	const most = 8.
	full := 1.
	for _, w := range d.Weeks {
		full = math.Max(full, w.Minutes)
	}
	d.ended(scoreLeft-5, top+most-1, "", 7.5, "bench minutes")
	d.ended(scoreLeft-5, top+most+4, "", 7.5, "places in the van")
	for n, w := range d.Weeks {
		holds, used := most*w.Minutes/full, most*w.Used/full
		d.ink(150, 0.15)
		d.pdf.Rect(d.x(n)+d.bar()*0.15, top+most-holds, d.bar()*0.7, holds, "D")
		d.ink(120, 0.15)
		d.pdf.Rect(d.x(n)+d.bar()*0.15, top+most-used, d.bar()*0.7, used, "F")
		d.centred(d.x(n)+d.bar()/2, top+most+4, "", min(7, d.bar()*0.8), w.Trip)
	}
	const r = 1.1
	x, y := scoreLeft, top+most+9
	for _, sign := range []struct {
		note ScoreNote
		says string
	}{
		{ScoreNote{}, "when it is due"},
		{ScoreNote{Early: true}, "earlier"},
		{ScoreNote{Late: true}, "later"},
		{ScoreNote{Pinned: true}, "pinned by somebody"},
		{ScoreNote{Count: 3}, "so many instruments"},
	} {
		d.note(x, y, r, sign.note)
		d.line(x+4, y+1, "", 8, sign.says)
		x += 9 + d.typesetter.width("", 8, sign.says)
	}
	d.line(x, y+1, "", 8, "over the staff: at the bench · in the staff: to a shop, with a slur until it is back")
}

// list sets the weeks in words, in columns on pages of their own. A heading does not stand alone at the foot of a column.
func (d *scoreDrawing) list(columns int) {
	const between, size, step = 5., 7.5, 3.4
	wide := (d.width - 2*sheetEdge - between*float64(columns-1)) / float64(columns)
	column, y := columns, 0.
	room := func(rows int) {
		if column < columns && y+float64(rows)*step <= d.height-sheetEdge {
			return
		}
		y = sheetEdge
		if column++; column >= columns {
			d.pdf.AddPage()
			column = 0
		}
	}
	put := func(style, text string, rows int) {
		d.pdf.SetXY(sheetEdge+float64(column)*(wide+between), y)
		d.paragraph(wide, step, style, size, text)
		y += float64(rows) * step
	}
	for _, w := range d.List {
		heading := d.rows(wide, "B", size, w.Heading)
		first := 0
		if len(w.Lines) > 0 {
			first = d.rows(wide, "", size, w.Lines[0])
		}
		room(heading + first + 1)
		if y > sheetEdge {
			y += step * 0.6
		}
		put("B", w.Heading, heading)
		for _, text := range w.Lines {
			rows := d.rows(wide, "", size, text)
			room(rows)
			put("", strings.TrimSpace(text), rows)
		}
	}
}
