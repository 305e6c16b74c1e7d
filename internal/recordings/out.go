package recordings

import (
	"bufio"
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/recording"
	"innercompass/internal/problem"
	"innercompass/internal/traces"
)

// Out is a file to be handed out.
type Out struct {
	Name  string
	Write func(w io.Writer) error
	Close func()
}

// List lists recordings, of a case when one is named, the latest first.
func (s *Service) List(ctx context.Context, of string) ([]Recording, error) {
	all, err := s.Store.Recordings(ctx)
	if err != nil || of == "" {
		return all, err
	}
	return slices.DeleteFunc(all, func(r Recording) bool { return r.Case != of }), nil
}

// File gives a recording: as it came, or its samples as a table or as sound with what was named.
func (s *Service) File(ctx context.Context, id, as string) (Out, error) {
	rec, err := s.Store.Recording(ctx, id)
	if err != nil {
		return Out{}, err
	}
	switch as {
	case "came":
		f, err := s.Store.OpenFile(rec.Digest)
		if err != nil {
			return Out{}, err
		}
		return Out{rec.File, func(w io.Writer) error { _, err := io.Copy(w, f); return err }, func() { f.Close() }}, nil
	case "table":
		f, done, err := s.Open(rec)
		if err != nil {
			return Out{}, err
		}
		return Out{rec.Title + ".csv", func(w io.Writer) error { return table(w, rec, f) }, done}, nil
	case "sound":
		if rec.Kind != recording.IsSound {
			return Out{}, problem.Field("as", "this is a table: its rows have no one rate", "came or table")
		}
		f, done, err := s.Open(rec)
		if err != nil {
			return Out{}, err
		}
		return Out{rec.Title + ".wav", func(w io.Writer) error { return sound(w, rec, f) }, done}, nil
	}
	return Out{}, problem.Field("as", fmt.Sprintf("%q", as), "came, table, sound")
}

func every(rec Recording) []int {
	out := make([]int, len(rec.Channels))
	for i := range out {
		out[i] = i
	}
	return out
}

// heading is a channel's name with its unit, as a table's head has it.
func heading(c Channel) string {
	if c.Unit == "" {
		return c.Name
	}
	return c.Name + " (" + c.Unit + ")"
}

func table(w io.Writer, rec Recording, f *traces.File) error {
	out := csv.NewWriter(w)
	row := []string{"Time (s)"}
	for _, c := range rec.Channels {
		row = append(row, heading(c))
	}
	if err := out.Write(row); err != nil {
		return err
	}
	err := f.Each(every(rec), 0, math.Inf(1), func(at []float64, values [][]float32) error {
		for i, t := range at {
			row[0] = strconv.FormatFloat(t, 'f', -1, 64)
			for c := range values {
				row[c+1] = ""
				if v := float64(values[c][i]); !math.IsNaN(v) {
					row[c+1] = strconv.FormatFloat(v, 'g', -1, 32)
				}
			}
			if err := out.Write(row); err != nil {
				return err
			}
		}
		return nil
	})
	out.Flush()
	return firstOf(err, out.Error())
}

func firstOf(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

func sound(w io.Writer, rec Recording, f *traces.File) error {
	var names []string
	for _, c := range rec.Channels {
		name := heading(c)
		if c.From != "" {
			name += ", " + c.From
		}
		names = append(names, name)
	}
	b := bufio.NewWriterSize(w, 1<<16)
	const piece = 1 << 16
	at := 0
	err := recording.WriteSound(b, len(rec.Channels), int(math.Round(rec.Rate)), rec.Rows, strings.Join(names, "; "), func() ([][]float32, error) {
		if at >= rec.Rows {
			return nil, nil
		}
		block := make([][]float32, len(rec.Channels))
		// Half a sample to either side: a row at the border belongs to one piece.
		from, to := (float64(at)-0.5)/rec.Rate, (float64(at+piece)-0.5)/rec.Rate
		at += piece
		err := f.Each(every(rec), math.Max(0, from), to, func(_ []float64, values [][]float32) error {
			for c := range values {
				block[c] = append(block[c], values[c]...)
			}
			return nil
		})
		return block, err
	})
	return firstOf(err, b.Flush())
}
