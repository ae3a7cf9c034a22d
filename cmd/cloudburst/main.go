// Command cloudburst serves a shop, and runs the core from a terminal.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/alecthomas/kong"
)

var cli struct {
	Demo     serveCmd    `cmd:"" help:"Serve the demo shop; it is loaded if the database is new."`
	Serve    serveCmd    `cmd:"" help:"Serve your own shop; an empty one is made if the database is new."`
	Migrate  migrateCmd  `cmd:"" help:"Bring the database up to this version, and end."`
	Match    matchCmd    `cmd:"" help:"What to drip for a recipe file's target, from the materials that the file holds, as JSON. Needs no database."`
	Predict  predictCmd  `cmd:"" help:"Colours of a recipe file at thicknesses, grounds and lights, as JSON. Needs no database."`
	Optics   opticsCmd   `cmd:"" help:"Light through layers of known K and S: R, T and Lab, as JSON. Needs no database."`
	Body     bodyCmd     `cmd:"" help:"An STL or OBJ body measured: size, volume, what was mended, as JSON. Needs no database."`
	Simulate simulateCmd `cmd:"" help:"How many test batches makers need whose bottles are not what their labels say. Needs no database."`
	OpenAPI  openAPICmd  `cmd:"" name:"openapi" hidden:""`
	Schema   schemaCmd   `cmd:"" hidden:""`
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	k := kong.Parse(&cli,
		kong.Name("cloudburst"),
		kong.Description("Colour recipes for soft plastic baits: build, scale, match, remember."),
		kong.UsageOnError(),
		kong.BindTo(ctx, (*context.Context)(nil)),
	)
	if err := k.Run(); err != nil && !errors.Is(err, context.Canceled) {
		fmt.Fprintln(os.Stderr, "cloudburst:", err)
		os.Exit(1)
	}
}
