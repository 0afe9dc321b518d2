package school

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestReach(t *testing.T) {
	for address, only := range map[string]bool{
		"http://127.0.0.1:8080": true, "http://localhost:8080": true, "http://[::1]:8080": true, "http://0.0.0.0": true, "http://a.localhost": true,
		"": true, "quillhaven": true, "http://192.168.4.20:8080": false, "https://solfeggio.quillhaven.example": false, "http://[2001:db8::7]": false,
	} {
		assert.Equal(t, only, OnThisMachineOnly(address), address)
	}
	all := &Schools{}
	_, err := all.Reach("http://127.0.0.1:8080")
	assert.ErrorContains(t, err, "SOLFEGGIO_PUBLIC_URL")
	all.Address = "https://solfeggio.quillhaven.example"
	at, err := all.Reach("http://127.0.0.1:8080")
	assert.NoError(t, err)
	assert.Equal(t, all.Address, at)
}
