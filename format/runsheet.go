package format

import (
	"bytes"
	"fmt"
	"math"
	"slices"

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

// RunSheet is a run for the wall, as a PDF: a page a cup, with what goes in as boxes to tick and spoons drawn out, and when.
func RunSheet(o *pour.Order, p *pour.Planned) ([]byte, error) {
	s := &sheet{fpdf.New("P", "mm", "A4", ""), o, p}
	s.AddUTF8FontFromBytes("go", "", goregular.TTF)
	s.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	s.SetTitle(o.Name, true)
	s.SetCreator("Cloudburst", true)
	s.SetMargins(sheetEdge, sheetEdge, sheetEdge)
	s.SetAutoPageBreak(true, sheetEdge+6)
	page, pages := 0, len(p.Cooks)
	s.SetFooterFunc(func() {
		s.SetY(sheetHigh - sheetEdge)
		s.SetFont("go", "", 9)
		s.CellFormat(0, 5, fmt.Sprintf("%s, sheet %d of %d. Figures are estimates; the data sheet of each product and your local rules come first.", o.Name, page, pages), "", 0, "L", false, 0, "")
	})
	for i := range p.Cooks {
		page = i + 1
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
	s.text(13, false, fmt.Sprintf("%s ml in all. Shot at %s, at least %s, at most %s.", measure.Number(c.MeasuredML, 0), measure.Degrees(h.AimC), measure.Degrees(h.LeastC), measure.Degrees(h.MostC)))
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
	for _, step := range s.p.Timeline.Steps {
		if !slices.Contains(step.Cooks, k) {
			continue
		}
		s.step(&step)
	}
	s.Ln(2)
	s.text(11, false, "Gloves, sleeves, eyes, dry tools; ventilate. What scorches goes outside: do not breathe it. Open with the sprue away from you.")
	s.Ln(2)
	s.text(11, true, "Good ______   short ______   bubbles ______   other ______________________   left in the cup ______ ml")
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

func (s *sheet) step(step *pour.Step) {
	y := s.GetY()
	if y > sheetHigh-sheetEdge-16 {
		s.AddPage()
		y = s.GetY()
	}
	s.box(sheetEdge, y+0.8)
	at := float64(step.Start) * pour.TickS / 60
	what := step.Title
	if step.BurstS > 0 {
		what += fmt.Sprintf(", %s s", measure.Number(step.BurstS, 0))
		if step.ToC > 0 {
			what += " to " + measure.Degrees(step.ToC)
		}
	}
	s.SetX(sheetEdge + boxMM + 2)
	s.SetFont("go", "", 11)
	s.CellFormat(16, 6, measure.Number(at, 1)+" min", "", 0, "L", false, 0, "")
	s.MultiCell(0, 6, what, "", "L", false)
}
