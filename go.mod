module cloudburst

go 1.26.0

ignore ./ui/node_modules

require (
	codeberg.org/go-pdf/fpdf v0.12.0
	github.com/alecthomas/kong v1.17.0
	github.com/bep/imagemeta v1.0.1
	github.com/boombuler/barcode v1.1.0
	github.com/chromedp/chromedp v0.23.0
	github.com/danielgtaylor/huma/v2 v2.37.2
	github.com/go-chi/chi/v5 v5.5.0
	github.com/go-chi/httplog/v3 v3.3.0
	github.com/go-sql-driver/mysql v1.10.1
	github.com/google/uuid v1.6.0
	github.com/hashicorp/golang-lru/v2 v2.0.7
	github.com/pressly/goose/v3 v3.29.0
	github.com/santhosh-tekuri/jsonschema/v6 v6.0.3
	github.com/stretchr/testify v1.12.1
	golang.org/x/image v0.47.0
	pgregory.net/rapid v1.3.0
)

require (
	golang.org/x/tools v0.51.0 // indirect
	gonum.org/v1/gonum v0.17.0
)

require (
	filippo.io/edwards25519 v1.2.0 // indirect
	github.com/chromedp/cdproto v0.159.0
	github.com/go-json-experiment/json v0.0.0-20260213210345-44df1a37e875 // indirect
	github.com/mfridman/interpolate v0.0.2 // indirect
	github.com/sethvargo/go-retry v0.5.0 // indirect
	go.uber.org/multierr v1.11.0 // indirect
	go.yaml.in/yaml/v3 v3.0.5 // indirect
	golang.org/x/sync v0.24.0
	golang.org/x/sys v0.49.0 // indirect
	golang.org/x/text v0.43.0 // indirect
)
