package scan

import (
	"context"
	"errors"
	"fmt"
	"time"

	"innercompass/core/obd"
)

// Reader asks a vehicle's modules.
type Reader struct {
	link Link
	// Again counts what had to be asked again.
	Again int
}

// NewReader makes one of a link.
func NewReader(l Link) *Reader { return &Reader{link: l} }

// Close ends its link.
func (r *Reader) Close() error { return r.link.Close() }

// tries are how often a lost or busy answer is asked for.
const tries = 3

// ask asks again what was lost, broken or busy.
func (r *Reader) ask(ctx context.Context, module uint16, request ...byte) ([]byte, error) {
	var err error
	for range tries {
		var body []byte
		if body, err = r.link.Ask(ctx, module, request); err == nil {
			return body, nil
		}
		var no *obd.RefusedError
		var frame *obd.FrameError
		var other *AnswerError
		switch {
		case errors.As(err, &no) && no.Reason == obd.Busy:
			time.Sleep(10 * time.Millisecond)
		case errors.Is(err, ErrSilent), errors.Is(err, ErrBroken), errors.Is(err, obd.ErrSum), errors.As(err, &frame), errors.As(err, &other):
		default:
			return nil, err
		}
		r.Again++
	}
	return nil, err
}

// Supported are the parameters of service 01 that a module has.
func (r *Reader) Supported(ctx context.Context, module uint16) ([]byte, error) {
	var out []byte
	for base := 0; base < 0x100; base += 0x20 {
		body, err := r.ask(ctx, module, obd.Current, byte(base)) //nolint:gosec // below 256
		if err != nil {
			return out, err
		}
		if len(body) < 5 || body[0] != byte(base) { //nolint:gosec // below 256
			return out, fmt.Errorf("scan: the list of what is supported from %02X on is %d bytes", base, len(body))
		}
		ids := obd.SupportedIDs(byte(base), body[1:5]) //nolint:gosec // below 256
		more := false
		for _, id := range ids {
			if int(id) == base+0x20 {
				more = true
			} else {
				out = append(out, id)
			}
		}
		if !more {
			break
		}
	}
	return out, nil
}

// mostAsked is how many parameters one request may ask for on a CAN bus.
const mostAsked = 6

// Current reads values of service 01, scaled. What a module has not is left out.
func (r *Reader) Current(ctx context.Context, module uint16, ids []byte) (map[byte]float64, error) {
	out := map[byte]float64{}
	each := 1
	if r.link.Several() {
		each = mostAsked
	}
	for len(ids) > 0 {
		n := min(each, len(ids))
		body, err := r.ask(ctx, module, append([]byte{obd.Current}, ids[:n]...)...)
		if err != nil {
			return out, err
		}
		ids = ids[n:]
		for len(body) > 0 {
			p, ok := obd.ParameterOf(body[0])
			if !ok {
				return out, fmt.Errorf("scan: a value of %02X was not asked for", body[0])
			}
			v, err := p.Read(body[1:])
			if err != nil {
				return out, err
			}
			out[p.ID], body = v, body[1+p.Bytes:]
		}
	}
	return out, nil
}

// Identified reads values by identifiers of two bytes each; all have two bytes of value. What a module has not is left out.
func (r *Reader) Identified(ctx context.Context, module uint16, ids []uint16) (map[uint16]uint16, error) {
	const most = 16
	each := most
	if !r.link.Several() {
		each = 1
	}
	out := map[uint16]uint16{}
	for len(ids) > 0 {
		n := min(each, len(ids))
		request := []byte{obd.ReadByID}
		for _, id := range ids[:n] {
			request = append(request, byte(id>>8), byte(id))
		}
		ids = ids[n:]
		body, err := r.ask(ctx, module, request...)
		var no *obd.RefusedError
		if errors.As(err, &no) && no.Reason == obd.OutOfRange {
			continue
		}
		if err != nil {
			return out, err
		}
		for len(body) >= 4 {
			out[uint16(body[0])<<8|uint16(body[1])] = uint16(body[2])<<8 | uint16(body[3])
			body = body[4:]
		}
	}
	return out, nil
}

// Codes reads the stored codes of a module, or the pending ones.
func (r *Reader) Codes(ctx context.Context, module uint16, pending bool) ([]obd.Code, error) {
	service := obd.Stored
	if pending {
		service = obd.Pending
	}
	body, err := r.ask(ctx, module, service)
	if err != nil {
		return nil, err
	}
	return obd.Codes(body, r.link.Counted())
}

// Clear clears the codes of a module.
func (r *Reader) Clear(ctx context.Context, module uint16) error {
	_, err := r.ask(ctx, module, obd.Clear)
	return err
}

// Number reads the vehicle's number.
func (r *Reader) Number(ctx context.Context) (string, error) {
	body, err := r.ask(ctx, obd.FirstModule, obd.Vehicle, 0x02)
	if err != nil {
		return "", err
	}
	if len(body) < 3 {
		return "", fmt.Errorf("scan: the vehicle's number is %d bytes", len(body))
	}
	return string(body[2:]), nil
}
