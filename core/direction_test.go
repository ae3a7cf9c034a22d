// Package core_test holds the house to its direction: cmd → web → store → core, and nothing back up.
package core_test

import (
	"cmp"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"os/exec"
	"slices"
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
			case dep == "golang.org/x/sync/errgroup" && pkg == "cloudburst/core/cores":
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
	floor := map[string]int{"core": 0, "store": 2, "testkit": 2, "stand": 1, "format": 1, "demo": 3, "web": 4, "cmd": 5}
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

// Stand-ins make figures up. Which shop meets them is chosen in cmd: no screen is wired to one.
func TestStandInsAreChosenInCmd(t *testing.T) {
	for pkg, deps := range imports(t, "./...") {
		for _, dep := range deps {
			if strings.HasPrefix(dep, "cloudburst/stand/") && !strings.HasPrefix(pkg, "cloudburst/cmd/") &&
				pkg != "cloudburst/demo" && !strings.HasPrefix(pkg, "cloudburst/stand/") {
				t.Errorf("%s imports %s; stand-ins exist only in the demo shop and in tests", pkg, dep)
			}
		}
	}
}

// A panic in a goroutine that nobody recovers ends the program. Goroutines for work start in core/cores, which gives a
// panic back as an error; those that run as long as the program does are listed here.
func TestGoroutinesGiveTheirPanicsBack(t *testing.T) {
	asLongAsTheProgram := map[string]int{"cmd/cloudburst/serve.go": 2, "store/mariadb/instance.go": 2}
	found := map[string]int{}
	require.NoError(t, eachFile(os.DirFS(".."), func(path string, file *ast.File) {
		if strings.HasPrefix(path, "core/cores/") {
			return
		}
		for _, imp := range file.Imports {
			if imp.Path.Value == `"golang.org/x/sync/errgroup"` {
				t.Errorf("%s imports errgroup, which lets a panic through; use core/cores", path)
			}
		}
		ast.Inspect(file, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.GoStmt:
				found[path]++
			case *ast.SelectorExpr:
				if x, ok := n.X.(*ast.Ident); ok && x.Name == "sync" && n.Sel.Name == "WaitGroup" {
					t.Errorf("%s has a WaitGroup of its own, which lets a panic through; use core/cores", path)
				}
			}
			return true
		})
	}))
	require.Equal(t, asLongAsTheProgram, found)
}

// The core is handed the time and what it reads; it never looks at a clock, a file or the environment.
func TestCoreReadsNoClock(t *testing.T) {
	never := map[string][]string{"time": {"Now", "Since", "Until"}, "os": nil}
	looks := 0
	require.NoError(t, eachFile(os.DirFS("."), func(path string, file *ast.File) {
		ast.Inspect(file, func(n ast.Node) bool {
			s, ok := n.(*ast.SelectorExpr)
			if !ok {
				return true
			}
			looks++
			if x, ok := s.X.(*ast.Ident); ok && x.Obj == nil {
				if names, found := never[x.Name]; found && (names == nil || slices.Contains(names, s.Sel.Name)) {
					t.Errorf("%s uses %s.%s", path, x.Name, s.Sel.Name)
				}
			}
			return true
		})
	}))
	require.Greater(t, looks, 10_000)
}

// eachFile parses every file of a tree that is not a test.
func eachFile(root fs.FS, f func(path string, file *ast.File)) error {
	return fs.WalkDir(root, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && (path == "ui" || path == "tools" || strings.HasPrefix(d.Name(), ".") &&
			path != ".") {
			return cmp.Or(err, fs.SkipDir)
		}
		if !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return nil
		}
		src, err := fs.ReadFile(root, path)
		if err != nil {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, src, 0)
		if err == nil {
			f(path, file)
		}
		return err
	})
}
