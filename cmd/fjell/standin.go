package main

import (
	"encoding/csv"
	"fmt"
	"net"
	"net/http"
	"os"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"fjell/core/land"
	"fjell/core/weather"
	"fjell/internal/exchange"
	"fjell/internal/standin"
)

// standInCommand runs the simulated devices that ship with Fjell.
func standInCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "stand-in", Short: "Simulated devices, for trying things out without them"}
	cmd.AddCommand(plateCommand(), stationCommand(), mailboxCommand())
	return cmd
}

func plateCommand() *cobra.Command {
	var ground, to, token string
	var drops int
	var height, every float64
	var seed uint64
	cmd := &cobra.Command{Use: "plate", Short: "A plate meter that walks over paddocks of a file and sends its readings", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			raw, err := os.ReadFile(ground)
			if err != nil {
				return err
			}
			features, err := exchange.Read(cmd.Context(), ground, raw)
			if err != nil {
				return err
			}
			var patches []standin.Patch
			var plane *land.Plane
			for _, f := range features {
				if len(f.Shape) == 0 {
					continue
				}
				if plane == nil {
					p := land.NewPlane(f.Shape.Centre())
					plane = &p
				}
				patches = append(patches, standin.Patch{Ground: plane.Project(f.Shape), Cm: height})
			}
			if plane == nil {
				return fmt.Errorf("%s holds no ground to walk over", ground)
			}
			sent, err := standin.Stream(cmd.Context(), http.DefaultClient, to, token, standin.Plate(*plane, patches, drops, time.Time{}, seed),
				time.Duration(every*float64(time.Second)), seed)
			fmt.Fprintf(cmd.OutOrStdout(), "%d readings sent, repeats included\n", sent)
			return err
		}}
	cmd.Flags().StringVar(&ground, "ground", "", "GeoJSON, KML or shapefile of the paddocks")
	cmd.Flags().StringVar(&to, "to", "http://127.0.0.1:8080", "address of Fjell")
	cmd.Flags().StringVar(&token, "token", "", "the device's token, from Walk")
	cmd.Flags().IntVar(&drops, "drops", 20, "readings in each paddock")
	cmd.Flags().Float64Var(&height, "height", 8, "compressed height that stands there, cm")
	cmd.Flags().Float64Var(&every, "every", 0.1, "seconds between batches of ten")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "the same seed walks the same walk")
	_ = cmd.MarkFlagRequired("ground")
	_ = cmd.MarkFlagRequired("token")
	return cmd
}

func mailboxCommand() *cobra.Command {
	var in, show string
	cmd := &cobra.Command{Use: "mailbox", Short: "A mail server that delivers nothing and shows what Fjell sent", Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		box := &standin.Mailbox{}
		listener, err := net.Listen("tcp", in)
		if err != nil {
			return err
		}
		page, err := net.Listen("tcp", show)
		if err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "Mail is taken at smtp://%s and shown at http://%s: start Fjell with FJELL_SMTP=smtp://%[1]s\n", listener.Addr(), page.Addr())
		server := box.Server()
		done := make(chan error, 2)
		go func() { done <- server.Serve(listener) }()
		go func() { done <- (&http.Server{Handler: box, ReadHeaderTimeout: 10 * time.Second}).Serve(page) }()
		select {
		case err := <-done:
			return err
		case <-cmd.Context().Done():
			return server.Close()
		}
	}}
	cmd.Flags().StringVar(&in, "smtp", "127.0.0.1:1025", "where it takes mail")
	cmd.Flags().StringVar(&show, "http", "127.0.0.1:8025", "where it shows what came")
	return cmd
}

func stationCommand() *cobra.Command {
	var from string
	var latitude float64
	var days int
	var seed int64
	cmd := &cobra.Command{Use: "station", Short: "A weather station's days as CSV", Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		first, err := time.Parse(time.DateOnly, from)
		if err != nil {
			return fmt.Errorf("--from must be a day, such as 2026-01-01")
		}
		w := csv.NewWriter(cmd.OutOrStdout())
		if err := w.Write([]string{"day", "rain_mm", "mean_c", "min", "max", "sun_h"}); err != nil {
			return err
		}
		number := func(v float64) string { return strconv.FormatFloat(v, 'f', 1, 64) }
		for i, d := range standin.Station(seed, weather.Climate{Latitude: latitude}, first, days) {
			if err := w.Write([]string{first.AddDate(0, 0, i).Format(time.DateOnly), number(d.Rain), number(d.Mean), number(*d.Least), number(*d.Most), number(*d.Sun)}); err != nil {
				return err
			}
		}
		w.Flush()
		return w.Error()
	}}
	cmd.Flags().StringVar(&from, "from", "2026-01-01", "the first day")
	cmd.Flags().Float64Var(&latitude, "latitude", 55, "degrees north")
	cmd.Flags().IntVar(&days, "days", 365, "how many days")
	cmd.Flags().Int64Var(&seed, "seed", 1, "the same seed makes the same weather")
	return cmd
}
