package ground

import (
	"container/list"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Map tiles come through Fjell, so that a page never loads from another machine and nobody's choice of one reaches
// anybody else's page. Only a farm that gave an address has them.

// Limits of tiles.
const (
	mostTileAddress = 300
	mostTileBytes   = 1 << 20
	mostTileZoom    = 22
	tilesAtOnce     = 12
	tileTimeout     = 8 * time.Second
	mostTilesKept   = 48 << 20 // bytes
)

// tileHost is a name or address of a machine, with a port where one is given, and nothing else.
var tileHost = regexp.MustCompile(`^(?i:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)*)(?::[0-9]{1,5})?$`)

// tileURL is where a tile is, by a farm's address.
func tileURL(address string, z, x, y int) (*url.URL, error) {
	at, err := url.Parse(strings.NewReplacer("{z}", strconv.Itoa(z), "{x}", strconv.Itoa(x), "{y}", strconv.Itoa(y)).Replace(address))
	if err != nil || at.Scheme != "https" && at.Scheme != "http" || at.User != nil || !tileHost.MatchString(at.Host) || len(address) > mostTileAddress {
		return nil, quantity.Refuse("address", address, "must be a web address of at most %d letters, such as https://tiles.example.org/{z}/{x}/{y}.png", mostTileAddress)
	}
	return at, nil
}

// checkTiles refuses what is no address of tiles.
func checkTiles(address string) error {
	if address == "" {
		return nil
	}
	first, err := tileURL(address, 1, 1, 1)
	if err != nil {
		return err
	}
	second, err := tileURL(address, 2, 3, 4)
	if err != nil || first.Host != second.Host {
		return quantity.Refuse("address", address, "the machine it names must not change from tile to tile")
	}
	for _, part := range []string{"{z}", "{x}", "{y}"} {
		if !strings.Contains(address, part) {
			return quantity.Refuse("address", address, "must hold {z}, {x} and {y}, where zoom, column and row go")
		}
	}
	return nil
}

// SetTiles gives the address of map tiles, or takes it away. It is off unless a farm sets it: whoever serves them then
// sees where the farm looks.
func (s *Service) SetTiles(ctx context.Context, a farm.Actor, version int, address string) (GroundView, error) {
	address = strings.TrimSpace(address)
	if err := checkTiles(address); err != nil {
		return GroundView{}, err
	}
	err := s.Write(ctx, a, farm.Request{Kind: "tiles", Body: []any{version, address}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("tile_address", address).Error
	})
	return farm.After(err, func() (GroundView, error) { return s.Ground(ctx, a) })
}

// ErrNoTile says that there is no tile, or that its machine does not give it.
var ErrNoTile = errors.New("there is no tile there")

// Tile is one tile of the farm's map.
func (s *Service) Tile(ctx context.Context, a farm.Actor, z, x, y int) (contentType string, content []byte, err error) {
	if z < 0 || z > mostTileZoom || x < 0 || y < 0 || x >= 1<<z || y >= 1<<z {
		return "", nil, ErrNoTile
	}
	var row store.Farm
	err = s.DB.WithContext(ctx).Select("id", "tile_address").First(&row, "id = ?", a.FarmID).Error
	if errors.Is(err, gorm.ErrRecordNotFound) || err == nil && row.TileAddress == "" {
		return "", nil, ErrNoTile
	}
	if err != nil {
		return "", nil, err
	}
	at, err := tileURL(row.TileAddress, z, x, y)
	if err != nil {
		return "", nil, ErrNoTile
	}
	return s.tiles.get(ctx, at.String(), s.PrivateTiles)
}

// tileShelf fetches tiles and keeps those used last. The zero value is ready.
type tileShelf struct {
	start  sync.Once
	turn   chan struct{}
	public *http.Client
	any    *http.Client

	mu    sync.Mutex
	byURL map[string]*list.Element
	used  *list.List // of *tile
	bytes int
}

type tile struct {
	url, contentType string
	content          []byte
}

func (t *tileShelf) get(ctx context.Context, address string, private bool) (string, []byte, error) {
	t.start.Do(func() {
		t.turn = make(chan struct{}, tilesAtOnce)
		t.byURL, t.used = map[string]*list.Element{}, list.New()
		t.public, t.any = tileClient(onlyPublic), tileClient(nil)
	})
	t.mu.Lock()
	if at, ok := t.byURL[address]; ok {
		t.used.MoveToFront(at)
		one := at.Value.(*tile)
		t.mu.Unlock()
		return one.contentType, one.content, nil
	}
	t.mu.Unlock()
	select {
	case t.turn <- struct{}{}:
		defer func() { <-t.turn }()
	case <-ctx.Done():
		return "", nil, ctx.Err()
	}
	client := t.public
	if private {
		client = t.any
	}
	one, err := fetchTile(ctx, client, address)
	if err != nil {
		return "", nil, fmt.Errorf("%w: %v", ErrNoTile, err) // what its machine met is no fault of ours
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if _, there := t.byURL[address]; !there {
		t.byURL[address] = t.used.PushFront(one)
		for t.bytes += len(one.content); t.bytes > mostTilesKept; {
			last := t.used.Back()
			gone := t.used.Remove(last).(*tile)
			delete(t.byURL, gone.url)
			t.bytes -= len(gone.content)
		}
	}
	return one.contentType, one.content, nil
}

func fetchTile(ctx context.Context, client *http.Client, address string) (*tile, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, err
	}
	req.Header.Set("User-Agent", "Fjell")
	res, err := client.Do(req)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("answered %s", res.Status)
	}
	content, err := io.ReadAll(io.LimitReader(res.Body, mostTileBytes+1))
	if err != nil {
		return nil, err
	}
	if len(content) > mostTileBytes {
		return nil, errors.New("is larger than a tile")
	}
	switch kind := http.DetectContentType(content); kind { // what it is, whatever it calls itself
	case "image/png", "image/jpeg", "image/webp":
		return &tile{address, kind, content}, nil
	default:
		return nil, fmt.Errorf("is %s, no picture", kind)
	}
}

// tileClient follows no redirects and, with a guard, talks to addresses it lets pass only. The guard sees the address
// that a name has come to, so a name cannot lead elsewhere after it was looked at.
func tileClient(guard func(network, address string, _ syscall.RawConn) error) *http.Client {
	dialer := &net.Dialer{Timeout: 4 * time.Second, Control: guard}
	return &http.Client{
		Timeout: tileTimeout,
		Transport: &http.Transport{DialContext: dialer.DialContext, MaxIdleConnsPerHost: 4, IdleConnTimeout: time.Minute, ResponseHeaderTimeout: tileTimeout,
			MaxResponseHeaderBytes: 16 << 10, ForceAttemptHTTP2: true},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
}

// besides are ranges that are not for the public though the standard library does not say so.
var besides = []netip.Prefix{
	netip.MustParsePrefix("0.0.0.0/8"), netip.MustParsePrefix("100.64.0.0/10"), netip.MustParsePrefix("192.0.0.0/24"), netip.MustParsePrefix("192.0.2.0/24"),
	netip.MustParsePrefix("198.18.0.0/15"), netip.MustParsePrefix("198.51.100.0/24"), netip.MustParsePrefix("203.0.113.0/24"), netip.MustParsePrefix("240.0.0.0/4"),
	netip.MustParsePrefix("64:ff9b::/96"), netip.MustParsePrefix("64:ff9b:1::/48"), netip.MustParsePrefix("100::/64"), netip.MustParsePrefix("2001::/23"),
	netip.MustParsePrefix("2001:db8::/32"), netip.MustParsePrefix("2002::/16"),
}

// onlyPublic lets pass addresses that anybody may ask: not this machine's, not its network's.
func onlyPublic(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return err
	}
	ip := at.Addr().Unmap()
	refused := fmt.Errorf("%s is no public address", ip)
	if !ip.IsGlobalUnicast() || ip.IsPrivate() || ip.IsLoopback() || ip.IsLinkLocalUnicast() {
		return refused
	}
	for _, range_ := range besides {
		if range_.Contains(ip) {
			return refused
		}
	}
	return nil
}
