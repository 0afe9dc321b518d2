package school

import (
	"fmt"
	"net"
	"net/url"
	"strings"

	"solfeggio/internal/app/journal"
)

// Reach is the address that stands on paper, in codes and in links: the one under which people come, or where nobody said, the one under
// which somebody asked. It is refused where nobody on another device could open it.
func (all *Schools) Reach(asked string) (string, error) {
	address := all.Address
	if address == "" {
		address = asked
	}
	if OnThisMachineOnly(address) {
		return "", &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s can be opened on this machine only, so it goes on no paper and "+
			"into no link. Whoever runs the server says under which address people come: SOLFEGGIO_PUBLIC_URL.", address)}
	}
	return address, nil
}

// OnThisMachineOnly reports whether an address leads nowhere from another device.
func OnThisMachineOnly(address string) bool {
	u, err := url.Parse(address)
	if err != nil || u.Hostname() == "" {
		return true
	}
	ip := net.ParseIP(u.Hostname())
	return ip != nil && (ip.IsLoopback() || ip.IsUnspecified()) || u.Hostname() == "localhost" || strings.HasSuffix(u.Hostname(), ".localhost")
}
