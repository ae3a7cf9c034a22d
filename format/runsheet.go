package format

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"cloudburst/core/measure"
	"cloudburst/core/pour"
)

// What the sheet is laid out by, mm on A4.
const (
	sheetWide = 210.0
	sheetHigh = 297.0
	sheetEdge = 15.0
	boxMM     = 4.2
	mostDrops = 40 // boxes that are drawn one by one
)

// sheet is a run sheet that is being drawn.
type sheet struct {
	*fpdf.Fpdf
	o *pour.Order
	p *pour.Planned
}

// RunSheet is a run for the wall, as a PDF: a page a cup, with what goes in as boxes to tick and spoons drawn out, and
// when.
func RunSheet(o *pour.Order, p *pour.Planned) ([]byte, error) {
	s := &sheet{fpdf.New("P", "mm", "A4", ""), o, p}
	s.AddUTF8FontFromBytes("go", "", goregular.TTF)
	s.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	s.SetTitle(o.Name, true)
	s.SetCreator("Cloudburst", true)
	s.SetMargins(sheetEdge, sheetEdge, sheetEdge)
	s.SetAutoPageBreak(true, sheetEdge+6)
	s.SetFooterFunc(func() {
		s.SetY(sheetHigh - sheetEdge)
		s.SetFont("go", "", 9)
		s.CellFormat(
			0, 5,
			fmt.Sprintf(
				"%s, sheet %d of %d. Figures are estimates; the data sheet of each product and your local rules come first.",
				o.Name, s.PageNo(), len(p.Cooks),
			),
			"", 0, "L", false, 0, "",
		)
	})
	for i := range p.Cooks {
		s.AddPage()
		s.cook(i)
	}
	var out bytes.Buffer
	err := s.Output(&out)
	return out.Bytes(), err
}

func (s *sheet) text(size float64, bold bool, says string) {
	style := ""
	if bold {
		style = "B"
	}
	s.SetFont("go", style, size)
	s.MultiCell(0, size*0.46, says, "", "L", false)
}

// box draws one to tick.
func (s *sheet) box(x, y float64) { s.Rect(x, y, boxMM, boxMM, "D") }

func (s *sheet) cook(k int) {
	c := &s.p.Cooks[k]
	h := &s.p.Heats[c.Of]
	s.SetLineWidth(0.35)
	s.text(26, true, "Cup "+c.Letter+": "+c.Name)
	s.text(
		13, false,
		fmt.Sprintf(
			"%s ml in all. Shot at %s, at least %s, at most %s.", measure.Number(c.MeasuredML, 0),
			measure.Degrees(h.AimC),
			measure.Degrees(h.LeastC), measure.Degrees(h.MostC),
		),
	)
	s.Ln(3)
	s.SetDrawColor(120, 120, 120)
	s.Line(sheetEdge, s.GetY(), sheetWide-sheetEdge, s.GetY())
	s.SetDrawColor(0, 0, 0)
	s.Ln(3)
	s.line("", measure.Number(c.Cup.Volume.ML, 0)+" ml plastisol", nil, 1)
	if c.LeftML > 0 {
		s.line("", fmt.Sprintf("%s ml of what is left of it", measure.Number(c.LeftML, 0)), nil, 1)
	}
	for _, when := range []pour.When{pour.Cold, pour.Colour, pour.Flake} {
		for i, d := range c.Doses {
			if d.When != when {
				continue
			}
			name := d.Name
			if d.MaxC > 0 && d.MaxC < 190 {
				name += ", below " + measure.Degrees(d.MaxC)
			}
			if a := c.Cup.Doses[i].Amount; a.Unit == measure.InDrops && a.Value <= mostDrops {
				s.line(d.Says, name, nil, int(a.Value))
			} else {
				s.line(d.Says, name, d.Scoops.Counts, 1)
			}
		}
	}
	s.Ln(2)
	s.text(15, true, "When")
	s.Ln(1)
	s.steps(k)
	s.Ln(2)
	s.text(
		11, false,
		"Gloves, sleeves, eyes, dry tools; ventilate. What scorches goes outside: do not breathe it. Open with the sprue away from you.",
	)
	s.Ln(2)
	s.text(11, true, "Good _____   short _____   bubbles _____   other _______________   left _____ ml")
}

// line is a thing that goes in: as many boxes as drops, in fives, or its spoons.
func (s *sheet) line(says, name string, spoons []measure.ScoopCount, boxes int) {
	y := s.GetY()
	s.SetFont("go", "B", 14)
	what := name
	if says != "" {
		what = says + "  "
		s.CellFormat(s.GetStringWidth(what)+1, 7, what, "", 0, "L", false, 0, "")
		s.SetFont("go", "", 14)
		what = name
	}
	s.CellFormat(0, 7, what, "", 1, "L", false, 0, "")
	y += 7.5
	if len(spoons) > 0 {
		s.spoons(spoons, y)
		return
	}
	x := sheetEdge
	for i := range max(1, boxes) {
		if i > 0 && i%5 == 0 {
			x += 2.5
		}
		if x+boxMM > sheetWide-sheetEdge {
			x, y = sheetEdge, y+boxMM+1.5
		}
		s.box(x, y)
		x += boxMM + 1.3
	}
	s.SetY(y + boxMM + 2.5)
}

// spoons draws them in their sizes beside each other, each as often as it is filled, with a box.
func (s *sheet) spoons(counts []measure.ScoopCount, y float64) {
	x := sheetEdge
	const of1tsp = 9.0 // across the bowl
	high := 0.0
	for _, c := range counts {
		r := max(1.1, of1tsp*math.Cbrt(c.TSP)/2)
		high = max(high, 2*r)
		for range c.N {
			if x+2*r+12 > sheetWide-sheetEdge {
				x, y = sheetEdge, y+high+9
			}
			s.Circle(x+r, y+r, r, "D")
			s.Line(x+2*r, y+r, x+2*r+6, y+r)
			s.box(x+2*r+7.5, y+r-boxMM/2)
			s.SetFont("go", "", 9)
			s.Text(x, y+2*r+4, measure.Spoons(c.TSP))
			x += 2*r + 7.5 + boxMM + 5
		}
	}
	s.SetY(y + high + 7)
}

// steps are what is done to a cup, in as many columns as it takes to stay on the page.
func (s *sheet) steps(k int) {
	var all []pour.Step
	for _, step := range s.p.Timeline.Steps {
		if slices.Contains(step.Cooks, k) {
			all = append(all, step)
		}
	}
	c := &s.p.Cooks[k]
	const high, foot = 6.0, 34.0
	from := s.GetY()
	rows := max(6, int((sheetHigh-sheetEdge-foot-from)/high))
	columns := (len(all) + rows - 1) / rows
	rows = (len(all) + columns - 1) / columns
	wide := (sheetWide - 2*sheetEdge) / float64(columns)
	size := []float64{11, 11, 9.5, 8}[min(columns, 3)]
	for i, step := range all {
		x, y := sheetEdge+float64(i/rows)*wide, from+float64(i%rows)*high
		s.box(x, y+0.8)
		what := strings.TrimPrefix(step.Title, fmt.Sprintf("Cup %s, %s: ", c.Letter, c.Name))
		what = strings.ToUpper(what[:1]) + what[1:]
		if step.BurstS > 0 {
			what += fmt.Sprintf(
				", %s s to %s °F", measure.Number(step.BurstS, 0), measure.Number(measure.Fahrenheit(step.ToC), 0),
			)
		}
		at := int(float64(step.Start) * pour.TickS)
		s.SetFont("go", "", size)
		s.SetXY(x+boxMM+1.5, y)
		s.CellFormat(13, high, fmt.Sprintf("%d:%02d", at/60, at%60), "", 0, "R", false, 0, "")
		s.CellFormat(wide-boxMM-16, high, what, "", 0, "L", false, 0, "")
	}
	s.SetXY(sheetEdge, from+float64(rows)*high)
}
