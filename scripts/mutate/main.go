// Command mutate changes one line of core at a time, in a copy, and tells which changes no test notices. The changes are
// in mutants.txt, a line each.
package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"time"
)

type mutant struct {
	file, from, to string
	packages       []string
}

// slow is how long a changed test may run: a change that never ends has been noticed.
const slow = 90 * time.Second

func main() {
	raw, err := os.ReadFile("scripts/mutate/mutants.txt")
	if err != nil {
		fail(err)
	}
	var list []mutant
	for _, line := range strings.Split(string(raw), "\n") {
		if line = strings.TrimSpace(line); line == "" || line[0] == '#' {
			continue
		}
		cells := strings.Split(strings.ReplaceAll(line, `\|\|`, "\x00"), " | ")
		if len(cells) != 4 {
			fail(fmt.Errorf("not four cells: %s", line))
		}
		for i := range cells {
			cells[i] = strings.ReplaceAll(strings.TrimSpace(cells[i]), "\x00", "||")
		}
		list = append(list, mutant{cells[0], cells[1], cells[2], strings.Fields(cells[3])})
	}
	var mu sync.Mutex
	var group sync.WaitGroup
	turns := make(chan struct{}, 2)
	survived := 0
	for _, m := range list {
		group.Go(func() {
			turns <- struct{}{}
			defer func() { <-turns }()
			noticed, err := try(m)
			mu.Lock()
			defer mu.Unlock()
			switch {
			case err != nil:
				fmt.Printf("?  %s: %s → %s: %v\n", m.file, m.from, m.to, err)
				survived++
			case !noticed:
				fmt.Printf("!! %s: %s → %s: no test noticed\n", m.file, m.from, m.to)
				survived++
			}
		})
	}
	group.Wait()
	fmt.Printf("%d changes, %d not noticed\n", len(list), survived)
	if survived > 0 {
		os.Exit(1)
	}
}

func try(m mutant) (noticed bool, err error) {
	dir, err := os.MkdirTemp("", "fjell-mutant-")
	if err != nil {
		return false, err
	}
	defer os.RemoveAll(dir)
	for _, part := range []string{"core", "go.mod", "go.sum"} {
		if out, err := exec.Command("cp", "-r", part, dir).CombinedOutput(); err != nil {
			return false, fmt.Errorf("%s: %w", out, err)
		}
	}
	path := filepath.Join(dir, "core", m.file)
	raw, err := os.ReadFile(path)
	if err != nil {
		return false, err
	}
	if !strings.Contains(string(raw), m.from) {
		return false, fmt.Errorf("it is not there")
	}
	if err := os.WriteFile(path, []byte(strings.ReplaceAll(string(raw), m.from, m.to)), 0o600); err != nil {
		return false, err
	}
	ctx, cancel := context.WithTimeout(context.Background(), slow)
	defer cancel()
	if out, err := goIn(ctx, dir, "build", "./core/...").CombinedOutput(); err != nil {
		return false, fmt.Errorf("it does not build: %s", out)
	}
	args := []string{"test", "-count=1"}
	for _, p := range m.packages {
		args = append(args, "./core/"+p)
	}
	return goIn(ctx, dir, args...).Run() != nil, nil
}

func goIn(ctx context.Context, dir string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, "go", args...)
	cmd.Dir = dir
	return cmd
}

func fail(err error) {
	fmt.Fprintln(os.Stderr, err)
	os.Exit(1)
}
