package web

import (
	"context"
	"crypto/rand"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"solfeggio/internal/app/access"
)

// A device on which somebody signs in carries a secret of its own, by which it is known again when they sign in once more.
const (
	deviceCookie = "solfeggio-device"
	deviceAge    = 400 * 24 * 3600 // seconds; browsers keep no cookie longer
)

type deviceKey struct{}

// fromWhere lets sign-in know from which address and on which device it is asked, and under which name of the server. A device without a
// secret gets one.
func (s *server) fromWhere(ctx huma.Context, next func(huma.Context)) {
	c := humagin.Unwrap(ctx)
	device, err := c.Cookie(deviceCookie)
	if err != nil || len(device) < 20 {
		device = rand.Text()
	}
	http.SetCookie(c.Writer, &http.Cookie{
		Name: deviceCookie, Value: device, Path: "/api/v1/session", MaxAge: deviceAge, Secure: s.secure, HttpOnly: true,
		SameSite: http.SameSiteStrictMode,
	})
	known := huma.WithContext(ctx, access.OnDevice(ctx.Context(), device))
	s.withHost(huma.WithValue(huma.WithValue(known, originKey{}, c.ClientIP()), deviceKey{}, device), next)
}

func originOf(ctx context.Context) string {
	origin, _ := ctx.Value(originKey{}).(string)
	return origin
}
