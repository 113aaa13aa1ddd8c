package ground

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOnlyPublicAddressesAreAsked(t *testing.T) {
	for _, address := range []string{"127.0.0.1:80", "10.1.2.3:443", "172.16.0.1:80", "192.168.1.1:80", "169.254.169.254:80", "100.64.0.1:80", "0.0.0.0:80", "224.0.0.1:80",
		"[::1]:80", "[fe80::1]:80", "[fd00::1]:80", "[::ffff:127.0.0.1]:80", "[64:ff9b::a00:1]:80", "[2002:7f00:1::]:80", "255.255.255.255:80", "no address"} {
		assert.Error(t, onlyPublic("tcp", address, nil), address)
	}
	for _, address := range []string{"8.8.4.4:443", "[2a00:1450::1]:443"} {
		assert.NoError(t, onlyPublic("tcp", address, nil), address)
	}
}
