package format

import (
	"bufio"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/photo"
)

const chartAdvice = "a card's file is CGATS text or CSV, with the patches' names (A1, A2, … B1, …) and their LAB values under D65 or D50, or their spectra from 380 to 730 nm"

// chartBorder is how wide a card's border usually is, as a share of the distance between patches.
const chartBorder = 0.09

// ReadChart reads the values of a card of known patches. Errors are sentences for the person who chose the file.
func ReadChart(r io.Reader) (*photo.Chart, error) {
	t, err := readTables(r)
	if err != nil {
		return nil, err
	}
	return chartOf(t)
}

// Measured is a colour that an instrument's file gives.
type Measured struct {
	Name     string
	Lab      colour.Lab // under D65
	Spectral bool       // worked out of a spectrum
	Adapted  bool       // measured under another light, and only expected to be so under D65
}

// ReadMeasured reads an instrument's readings, one a line. Errors are sentences for the person who chose the file.
func ReadMeasured(r io.Reader) ([]Measured, error) {
	t, err := readTables(r)
	if err != nil {
		return nil, err
	}
	return t.patches()
}

// table is a file's named columns, and the light that its LAB values are under.
type table struct {
	head  []string
	rows  [][]string
	light colour.Light
}

// readTables reads a CGATS or CSV file.
func readTables(r io.Reader) (*table, error) {
	raw, err := io.ReadAll(io.LimitReader(r, 400_000))
	if err != nil {
		return nil, err
	}
	text := strings.ReplaceAll(string(raw), "\r", "\n")
	if strings.Contains(text, "BEGIN_DATA_FORMAT") {
		return readCGATS(text)
	}
	return readTable(text)
}

// underD50 finds the light in a CGATS file's head, under either of the names that are usual for it. Silence is D65.
var underD50 = regexp.MustCompile(`(?i)^\s*(ILLUMINANT\w*|WEIGHTING_FUNCTION)\b.*\bD50\b`)

func readCGATS(text string) (*table, error) {
	t := &table{light: colour.D65}
	part := ""
	lines := bufio.NewScanner(strings.NewReader(text))
	lines.Buffer(nil, 200_000)
	for lines.Scan() {
		line := strings.TrimSpace(lines.Text())
		switch line {
		case "BEGIN_DATA_FORMAT", "BEGIN_DATA":
			part = line
			continue
		case "END_DATA_FORMAT", "END_DATA":
			part = ""
			continue
		case "":
			continue
		}
		if part == "" && underD50.MatchString(line) {
			t.light = colour.D50
		}
		fields := strings.Fields(strings.ReplaceAll(line, `"`, ""))
		switch part {
		case "BEGIN_DATA_FORMAT":
			t.head = append(t.head, fields...)
		case "BEGIN_DATA":
			if len(fields) != len(t.head) {
				return nil, fmt.Errorf(
					"a line of this CGATS file has %d values where its format names %d; %s", len(fields), len(t.head),
					chartAdvice,
				)
			}
			t.rows = append(t.rows, fields)
		}
		if len(t.rows) > 500 {
			return nil, errors.New("this card has more than 500 patches")
		}
	}
	return t, lines.Err()
}

func readTable(text string) (*table, error) {
	c := csv.NewReader(strings.NewReader(text))
	c.Comment, c.TrimLeadingSpace, c.FieldsPerRecord = '#', true, -1
	if strings.Count(text, ";") > strings.Count(text, ",") {
		c.Comma = ';'
	}
	all, err := c.ReadAll()
	if err != nil || len(all) < 2 {
		return nil, fmt.Errorf("this file can't be read as a table; %s", chartAdvice)
	}
	for _, row := range all[1:] {
		if len(row) < len(all[0]) {
			return nil, fmt.Errorf(
				"a line of this file has %d values where its head names %d; %s", len(row), len(all[0]), chartAdvice,
			)
		}
	}
	return &table{all[0], all[1:], colour.D65}, nil
}

// patches finds the columns that matter, whatever order they are in. Spectra count before LAB. Values over 2 are
// percent.
func (t *table) patches() (list []Measured, err error) {
	column := func(names ...string) int {
		for _, n := range names {
			for i, h := range t.head {
				if strings.EqualFold(strings.TrimSpace(h), n) {
					return i
				}
			}
		}
		return -1
	}
	name := column("SAMPLE_NAME", "patch", "name", "SAMPLE_ID", "id")
	lab := [3]int{column("LAB_L", "L_D65", "L"), column("LAB_A", "a_D65", "a"), column("LAB_B", "b_D65", "b")}
	light := t.light
	if d50 := [3]int{
		column("L_D50"), column("a_D50"), column("b_D50"),
	}; min(lab[0], lab[1], lab[2]) < 0 && min(d50[0], d50[1], d50[2]) >= 0 {
		lab, light = d50, colour.D50
	}
	var bands [colour.Bands]int
	spectral := true
	for b := range bands {
		nm := strconv.Itoa(int(colour.NM(b)))
		bands[b] = column("SPECTRAL_NM"+nm, "SPECTRAL_"+nm, "NM"+nm, nm)
		spectral = spectral && bands[b] >= 0
	}
	if name < 0 || (!spectral && (lab[0] < 0 || lab[1] < 0 || lab[2] < 0)) {
		return nil, fmt.Errorf("this file names no patches with LAB values or spectra; %s", chartAdvice)
	}
	for _, row := range t.rows {
		m := Measured{Name: strings.TrimSpace(row[name]), Spectral: spectral}
		number := func(i int) (float64, error) {
			v, err := strconv.ParseFloat(strings.TrimSpace(row[i]), 64)
			if err != nil || v != v {
				return 0, fmt.Errorf("%q in patch %s is no number", row[i], m.Name)
			}
			return v, nil
		}
		if spectral {
			var s colour.Spectrum
			most := 0.0
			for b := range s {
				if s[b], err = number(bands[b]); err != nil {
					return nil, err
				}
				most = max(most, s[b])
			}
			if most > 2 {
				for b := range s {
					s[b] /= 100
				}
			}
			m.Lab = colour.D65.Lab(&s)
		} else {
			for i, v := range []*float64{&m.Lab.L, &m.Lab.A, &m.Lab.B} {
				if *v, err = number(lab[i]); err != nil {
					return nil, err
				}
			}
			m.Lab, m.Adapted = light.InDaylight(m.Lab), light != colour.D65
		}
		list = append(list, m)
	}
	return list, nil
}

var patchName = regexp.MustCompile(`^([A-Za-z])(\d{1,2})$`)

func chartOf(t *table) (*photo.Chart, error) {
	patches, err := t.patches()
	if err != nil {
		return nil, err
	}
	type place struct{ row, column int }
	found := map[place]colour.Lab{}
	c := &photo.Chart{Name: "Card", Border: chartBorder}
	for _, patch := range patches {
		m := patchName.FindStringSubmatch(patch.Name)
		if m == nil {
			return nil, fmt.Errorf(
				"%q is no place on a card; patches are named by row and column, as A1 or D6", patch.Name,
			)
		}
		at, _ := strconv.Atoi(m[2])
		p := place{int(strings.ToUpper(m[1])[0] - 'A'), at - 1}
		found[p] = patch.Lab
		c.Rows, c.Columns = max(c.Rows, p.row+1), max(c.Columns, p.column+1)
	}
	if c.Rows*c.Columns > 500 {
		return nil, errors.New("this card has more than 500 patches")
	}
	for r := range c.Rows {
		for k := range c.Columns {
			v, ok := found[place{r, k}]
			if !ok {
				return nil, fmt.Errorf("patch %c%d of this card is missing in its file", 'A'+r, k+1)
			}
			c.Patches = append(c.Patches, v)
		}
	}
	return c, c.Check()
}
