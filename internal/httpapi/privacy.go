package httpapi

import (
	"context"
	"strconv"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/privacy"
)

func privacyView(t privacy.Times) gen.Privacy {
	return gen.Privacy{Names: t.Names, Pictures: t.Pictures, Rev: strconv.Itoa(t.Rev)}
}

func (h *handlers) GetPrivacy(ctx context.Context, _ gen.GetPrivacyRequestObject) (gen.GetPrivacyResponseObject, error) {
	t, err := h.App.Privacy.Times(ctx)
	return gen.GetPrivacy200JSONResponse(privacyView(t)), err
}

func (h *handlers) SetPrivacy(ctx context.Context, r gen.SetPrivacyRequestObject) (gen.SetPrivacyResponseObject, error) {
	rev, _ := strconv.Atoi(unquoted(r.Params.IfMatch)) // what is no number is no revision
	t, err := h.App.Privacy.SaveTimes(ctx, privacy.Times{Names: r.Body.Names, Pictures: r.Body.Pictures, Rev: rev})
	return gen.SetPrivacy200JSONResponse(privacyView(t)), err
}

func (h *handlers) FindCustomers(ctx context.Context, r gen.FindCustomersRequestObject) (gen.FindCustomersResponseObject, error) {
	found, err := h.App.Privacy.Find(ctx, r.Body.Q)
	return gen.FindCustomers200JSONResponse(list(found, func(s privacy.Subject) gen.Subject {
		return gen.Subject{Customer: s.Customer, Cases: list(s.Cases, func(c privacy.Case) gen.SubjectCase {
			return gen.SubjectCase{ID: c.ID, Vehicle: c.Vehicle, Opened: c.Opened, Closed: c.Closed, Records: texts(c.Records), Pictures: c.Pictures}
		})}
	})), err
}

func (h *handlers) EraseCustomer(ctx context.Context, r gen.EraseCustomerRequestObject) (gen.EraseCustomerResponseObject, error) {
	d, err := h.App.Privacy.Erase(ctx, r.Body.Customer, r.Body.Why)
	return gen.EraseCustomer201JSONResponse{Cases: len(d.Cases), Records: texts(d.Records), Pictures: d.Pictures}, err
}
