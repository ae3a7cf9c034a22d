package format

import (
	"bytes"
	"fmt"
	"html"
	"math"

	"cloudburst/core/bait"
)

// Strip draws a bait's outline with its bars and spots in true size, as an SVG in millimetres, with a rule to check the
// print against: to be cut out and laid beside the mold.
func Strip(name string, s *bait.Shape, st *bait.Structure) []byte {
	const margin = 8
	height, _ := s.Size()
	top := s.To[1]
	if s.Lying {
		_, height = s.Size()
		top = -s.From[2]
	}
	w, h := s.ToX+2*margin, height+2*margin+22
	middle := margin + top
	var b bytes.Buffer
	p := func(form string, args ...any) { fmt.Fprintf(&b, form+"\n", args...) }
	p(
		`<svg xmlns="http://www.w3.org/2000/svg" width="%.1fmm" height="%.1fmm" viewBox="0 0 %.1f %.1f" font-family="sans-serif" font-size="3">`,
		w, h, w, h,
	)
	p(`<title>%s: bars and spots in true size</title>`, html.EscapeString(name))
	p(`<g fill="none" stroke="#000" stroke-width="0.2">`)
	// The outline, by where the column reaches to.
	for _, side := range []float64{1, -1} {
		path := ""
		for x := s.FromX; x <= s.ToX+1e-9; x += 0.5 {
			low, high, ok := s.Outline(x)
			if !ok {
				continue
			}
			y := high
			if side < 0 {
				y = low
			}
			verb := "L"
			if path == "" {
				verb = "M"
			}
			path += fmt.Sprintf("%s%.2f %.2f", verb, margin+x, middle-y)
		}
		p(`<path d="%s"/>`, path)
	}
	p(`</g>`)
	cutter := bait.NewCutter(s, st, bait.Split{}, 0)
	p(`<g fill="#000" fill-opacity="0.3" stroke="#000" stroke-width="0.15">`)
	for _, bar := range st.Bars {
		_, high, _ := s.Outline(math.Min(s.ToX, bar.AtMM))
		down := cutter.YOf(bar.Down)
		p(
			`<rect x="%.2f" y="%.2f" width="%.2f" height="%.2f"/>`, margin+bar.AtMM-bar.WideMM/2, middle-high,
			bar.WideMM,
			math.Max(0.5, high-down),
		)
	}
	for _, spot := range st.Spots {
		p(`<circle cx="%.2f" cy="%.2f" r="%.2f"/>`, margin+spot.AtMM, middle-spot.UpMM, spot.AcrossMM/2)
	}
	p(`</g>`)
	// A rule along the bait: if ten of its steps are not a centimetre, the print was scaled.
	rule := margin + height + 4
	p(`<g stroke="#000" stroke-width="0.15">`)
	for mm := 0.0; mm <= s.ToX; mm++ {
		long := 1.5
		if math.Mod(mm, 10) == 0 {
			long = 4
		} else if math.Mod(mm, 5) == 0 {
			long = 2.5
		}
		p(`<path d="M%.1f %.1fv%.1f"/>`, margin+mm, rule, long)
	}
	p(`</g>`)
	for mm := 0.0; mm <= s.ToX; mm += 10 {
		p(`<text x="%.1f" y="%.1f" text-anchor="middle">%.0f</text>`, margin+mm, rule+7.5, mm)
	}
	p(
		`<text x="%d" y="%.1f">%s. Print at 100 %%: ten steps are one centimetre. Nose at 0.</text>`, margin, rule+13,
		html.EscapeString(name),
	)
	p(`</svg>`)
	return b.Bytes()
}
