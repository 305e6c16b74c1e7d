package recordings

import (
	"context"
	"fmt"

	"innercompass/internal/problem"
	"innercompass/internal/traces"
)

// Open opens the samples of a recording.
func (s *Service) Open(rec Recording) (*traces.File, func(), error) {
	f, err := s.Store.OpenFile(rec.Kept)
	if err != nil {
		return nil, nil, err
	}
	info, err := f.Stat()
	if err != nil {
		f.Close()
		return nil, nil, err
	}
	t, err := traces.Open(f, info.Size())
	if err != nil {
		f.Close()
		return nil, nil, err
	}
	return t, func() { f.Close() }, nil
}

// Trace is what is drawn of some channels between two times.
func (s *Service) Trace(ctx context.Context, id string, channels []int, from, to float64, most int) (Recording, traces.Trace, error) {
	rec, err := s.Store.Recording(ctx, id)
	if err != nil {
		return rec, traces.Trace{}, err
	}
	f, done, err := s.Open(rec)
	if err != nil {
		return rec, traces.Trace{}, err
	}
	defer done()
	for _, c := range channels {
		if c < 0 || c >= len(rec.Channels) {
			return rec, traces.Trace{}, problem.Field("channels", fmt.Sprint(c), fmt.Sprintf("0 to %d", len(rec.Channels)-1))
		}
	}
	if to == 0 {
		to = rec.Seconds
	}
	if !(from >= 0 && to > from) {
		return rec, traces.Trace{}, problem.Field("from", fmt.Sprintf("%v to %v s", from, to), fmt.Sprintf("a part of 0 to %.3f s", rec.Seconds))
	}
	t, err := f.Drawn(channels, from, to, most)
	return rec, t, err
}
