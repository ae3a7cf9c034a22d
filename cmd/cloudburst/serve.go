package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"syscall"
	"time"

	"github.com/alecthomas/kong"

	"cloudburst/core/cores"
	"cloudburst/demo"
	"cloudburst/stand/camera"
	"cloudburst/stand/scale"
	"cloudburst/stand/thermometer"
	"cloudburst/store"
	"cloudburst/store/mariadb"
	"cloudburst/web"
)

// dataFlags say where the data are.
type dataFlags struct {
	Data string `help:"Data folder (default: ${default})." env:"CLOUDBURST_DATA" default:"data" type:"path" placeholder:"FOLDER"`
	DSN  string `help:"A MariaDB server of your own, as user:password@tcp(host:port)/database, instead of the private one in the data folder." env:"CLOUDBURST_DSN" placeholder:"DSN"`
}

type serveCmd struct {
	dataFlags
	Addr  string   `help:"Address to serve on (default: ${default})." env:"CLOUDBURST_ADDR" default:"127.0.0.1:8080" placeholder:"HOST:PORT"`
	Hosts []string `help:"Further host names under which it may be opened." env:"CLOUDBURST_HOSTS" placeholder:"NAME"`
}

func (c *serveCmd) Run(ctx context.Context, k *kong.Context) error {
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	slog.SetDefault(log)
	listener, err := net.Listen("tcp", c.Addr) // first, so that nothing is touched when it fails
	if err != nil {
		if errors.Is(err, syscall.EADDRINUSE) {
			return fmt.Errorf(
				"%s is in use already. If that is Cloudburst, open http://%s; otherwise choose another port: CLOUDBURST_ADDR=127.0.0.1:8081",
				c.Addr, c.Addr,
			)
		}
		return fmt.Errorf("can't serve on %s (%w); choose another address with CLOUDBURST_ADDR", c.Addr, err)
	}
	defer listener.Close()
	st, end, err := c.open(ctx, log)
	if err != nil {
		return err
	}
	defer end()
	if err := st.Migrate(ctx); err != nil {
		return fmt.Errorf("the database: %w", err)
	}
	shop, err := shopOf(ctx, st, k.Command() == "demo")
	if err != nil {
		return err
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(softMemory)
	}
	go tidyUp(ctx, log, shop)
	server := &http.Server{
		Handler: web.New(web.Config{
			Store: st, Shops: web.Only(shop), Log: log, Hosts: c.Hosts, Tools: toolsOf(shop),
		}),
		ReadHeaderTimeout: 5 * time.Second, ReadTimeout: time.Minute, WriteTimeout: time.Minute,
		IdleTimeout:    2 * time.Minute,
		MaxHeaderBytes: 64 << 10,
		ErrorLog:       slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	fmt.Printf("Cloudburst is ready: http://%s\n", listener.Addr())
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	fmt.Println("Ending: what is under way is finished first.")
	patience, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return server.Shutdown(patience)
}

// softMemory is from where on memory that is no longer needed is looked for harder, bytes.
const softMemory = 500 << 20

// toolsOf are the devices of a shop. Only the demo shop has the stand-ins: what they make up never gets into a real
// cup.
func toolsOf(shop *store.Shop) web.Tools {
	if !shop.Demo {
		return web.Tools{}
	}
	return web.Tools{Scale: scale.New(1), Card: camera.Card(), Thermometer: thermo{thermometer.New(1)}}
}

// thermo tells the stand-in what was done to a cup.
type thermo struct{ *thermometer.Thermometer }

func (t thermo) Read(_ string, told web.Told) float64 {
	bursts := make([]thermometer.Burst, len(told.Bursts))
	for i, b := range told.Bursts {
		bursts[i] = thermometer.Burst(b)
	}
	return t.Thermometer.Read(told.ML, told.GML, told.RoomC, told.NowS, bursts)
}

// How often what nobody needs any more is thrown away, and how old it is by then.
const (
	tidyEvery   = time.Hour
	unusedPhoto = 24 * time.Hour
	oldKeys     = 90 * 24 * time.Hour
)

// tidyUp throws away photos that nothing shows, and keys of actions that nobody sends again.
func tidyUp(ctx context.Context, log *slog.Logger, shop *store.Shop) {
	for every := time.NewTicker(tidyEvery); ; {
		err := cores.Try(func() error {
			photos, err := shop.DropUnusedPhotos(ctx, time.Now().Add(-unusedPhoto))
			if photos > 0 {
				log.Info("photos that nothing shows were thrown away", "photos", photos)
			}
			return errors.Join(err, shop.DropOldKeys(ctx, time.Now().Add(-oldKeys)))
		})
		if err != nil && ctx.Err() == nil {
			log.Warn("tidying up", "err", err)
		}
		select {
		case <-ctx.Done():
			every.Stop()
			return
		case <-every.C:
		}
	}
}

// shopOf is the shop to serve. A new database gets one, with the demo's things or without.
func shopOf(ctx context.Context, st *store.Store, withDemo bool) (*store.Shop, error) {
	shop, err := st.FirstShop(ctx)
	if !errors.Is(err, store.ErrNotFound) {
		return shop, err
	}
	if !withDemo {
		return st.NewShop(ctx, "My shop", false)
	}
	return st.NewShopWith(ctx, demo.ShopName, true, demo.Load)
}

type migrateCmd struct{ dataFlags }

func (c *migrateCmd) Run(ctx context.Context) error {
	st, end, err := c.open(ctx, slog.Default())
	if err != nil {
		return err
	}
	defer end()
	if err := st.Migrate(ctx); err != nil {
		return fmt.Errorf("the database: %w", err)
	}
	fmt.Printf("The database is of version %d.\n", store.SchemaVersion)
	return nil
}

// open opens the store: the maker's own server if one is set, else the private one in the data folder.
func (d *dataFlags) open(ctx context.Context, log *slog.Logger) (*store.Store, func(), error) {
	if d.DSN != "" {
		st, err := store.Open(ctx, d.DSN)
		if err != nil {
			return nil, nil, err
		}
		return st, func() { st.Close() }, nil
	}
	unlock, err := claim(d.Data)
	if err != nil {
		return nil, nil, err
	}
	db, err := mariadb.Start(ctx, mariadb.Options{Dir: filepath.Join(d.Data, "mariadb"), Log: log})
	if err != nil {
		unlock()
		return nil, nil, err
	}
	keepShapes(d.Data, log)
	stop := func() {
		if err := db.Stop(); err != nil {
			log.Error("ending the database", "err", err)
		}
		unlock()
	}
	st, err := store.Open(ctx, db.DSN(""))
	if err != nil {
		stop()
		return nil, nil, err
	}
	return st, func() { st.Close(); stop() }, nil
}
