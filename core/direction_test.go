// Package core_test holds the house to its direction: cmd → web → store → core, and nothing back up.
package core_test

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// imports lists what the packages of a pattern import directly, package by package.
func imports(t *testing.T, args ...string) map[string][]string {
	t.Helper()
	cmd := exec.Command("go", append([]string{"list", "-f", "{{.ImportPath}} {{join .Imports \" \"}}"}, args...)...)
	cmd.Dir = ".."
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	all := map[string][]string{}
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		all[words[0]] = words[1:]
	}
	return all
}

func TestCoreLeansOnNothingButItself(t *testing.T) {
	checked := 0
	for pkg, deps := range imports(t, "-deps", "./core/...") {
		if !strings.HasPrefix(pkg, "cloudburst/core/") {
			continue
		}
		checked++
		for _, dep := range deps {
			root, _, dotted := strings.Cut(dep, "/")
			switch {
			case strings.HasPrefix(dep, "cloudburst/core/"), strings.HasPrefix(dep, "gonum.org/"):
			case strings.HasPrefix(dep, "golang.org/x/image"):
				if pkg != "cloudburst/core/picture" && pkg != "cloudburst/core/photo" {
					t.Errorf("%s imports %s; pictures belong in core/picture and core/photo", pkg, dep)
				}
			case dep == "golang.org/x/sys/cpu" && pkg == "cloudburst/core/match": // what the processor can, no more
			case dotted && strings.Contains(root, "."), strings.HasPrefix(dep, "cloudburst/"):
				t.Errorf("%s imports %s; the core leans on nothing outside", pkg, dep)
			case dep == "os", dep == "time", strings.HasPrefix(dep, "net/"), dep == "net", strings.HasPrefix(dep, "database/"):
				if dep != "time" { // durations and dates are values; a clock is not read (see below)
					t.Errorf("%s imports %s; the core knows no files, network or database", pkg, dep)
				}
			}
		}
	}
	require.GreaterOrEqual(t, checked, 7)
}

func TestNothingImportsBackUp(t *testing.T) {
	floor := map[string]int{"core": 0, "store": 2, "stand": 1, "format": 1, "demo": 3, "web": 4, "cmd": 5}
	room := func(pkg string) (string, bool) {
		rest, ours := strings.CutPrefix(pkg, "cloudburst/")
		name, _, _ := strings.Cut(rest, "/")
		return name, ours
	}
	for pkg, deps := range imports(t, "./...") {
		from, _ := room(pkg)
		for _, dep := range deps {
			to, ours := room(dep)
			if ours && from != to && floor[from] <= floor[to] {
				t.Errorf("%s imports %s: that runs back up", pkg, dep)
			}
		}
	}
}

// The core is handed the time; it never looks at a clock, a file or the environment.
func TestCoreReadsNoClock(t *testing.T) {
	out, err := exec.Command("grep", "-rnE", `time\.(Now|Since|Until)\(|os\.(Getenv|Open|ReadFile)`, "--include=*.go", "--exclude=*_test.go", ".").Output()
	require.Error(t, err, "found: %s", out)
}
