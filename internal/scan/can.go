package scan

import (
	"context"
	"errors"
	"os"
	"time"

	"innercompass/core/obd"
)

// can is a link over a bus.
type can struct{ bus Bus }

// OverCAN makes a link of a bus.
func OverCAN(b Bus) Link { return can{b} }

func (c can) Counted() bool { return true }
func (c can) Several() bool { return true }
func (c can) Close() error  { return c.bus.Close() }

func (c can) Ask(ctx context.Context, module uint16, request []byte) ([]byte, error) {
	frames, err := obd.Split(module, request)
	if err != nil {
		return nil, err
	}
	if err := c.bus.Send(frames[0]); err != nil {
		return nil, err
	}
	if err := c.rest(ctx, module, frames[1:]); err != nil {
		return nil, err
	}
	until := time.Now().Add(answerTime)
	var join obd.Join
	for {
		f, err := c.receive(ctx, module, until)
		if err != nil {
			return nil, err
		}
		if _, flow := obd.FlowOf(f); flow {
			continue // one that came late
		}
		message, flow, err := join.Take(f)
		switch {
		case err != nil:
			return nil, err
		case flow:
			if err := c.bus.Send(obd.Flow{}.Frame(module)); err != nil {
				return nil, err
			}
			until = time.Now().Add(frameTime)
		case message == nil:
			until = time.Now().Add(frameTime)
		default:
			body, err := checked(request[0], message)
			var no *obd.RefusedError
			if errors.As(err, &no) && no.Reason == obd.Pausing {
				until = time.Now().Add(pauseTime)
				continue
			}
			return body, err
		}
	}
}

// rest sends what follows a first frame, as the module's flow control wants it.
func (c can) rest(ctx context.Context, module uint16, frames []obd.Frame) error {
	left := 0
	var gap time.Duration
	for i := 0; i < len(frames); {
		if left == 0 {
			f, err := c.receive(ctx, module, time.Now().Add(frameTime))
			if err != nil {
				return err
			}
			flow, ok := obd.FlowOf(f)
			switch {
			case !ok || flow.Status == obd.Wait:
				continue
			case flow.Status == obd.Overflow:
				return &obd.FrameError{Frame: f, Reason: "the module cannot take so long a message"}
			}
			if left, gap = flow.Block, time.Duration(flow.Separate)*time.Microsecond; left == 0 {
				left = len(frames)
			}
		}
		time.Sleep(gap)
		if err := c.bus.Send(frames[i]); err != nil {
			return err
		}
		left--
		i++
	}
	return nil
}

// receive waits for a frame of a module; of any when all were asked.
func (c can) receive(ctx context.Context, module uint16, until time.Time) (obd.Frame, error) {
	for {
		if err := ctx.Err(); err != nil {
			return obd.Frame{}, err
		}
		f, err := c.bus.Receive(until)
		if errors.Is(err, os.ErrDeadlineExceeded) {
			return f, ErrSilent
		}
		if err != nil {
			return f, err
		}
		if f.ID == module+obd.Answers || module == obd.Functional && f.ID >= obd.FirstModule+obd.Answers && f.ID < obd.FirstModule+2*obd.Answers {
			return f, nil
		}
	}
}

// checked takes the service's byte off an answer.
func checked(service byte, message []byte) ([]byte, error) {
	switch {
	case len(message) >= 3 && message[0] == obd.Negative:
		return nil, &obd.RefusedError{Service: message[1], Reason: message[2]}
	case message[0] != service+obd.Positive:
		return nil, &AnswerError{Service: service, Got: message[0]}
	}
	return message[1:], nil
}

// AnswerError is an answer to something that was not asked.
type AnswerError struct{ Service, Got byte }

func (e *AnswerError) Error() string {
	return "scan: an answer to another service than the one that was asked"
}
