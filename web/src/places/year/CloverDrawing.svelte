<script lang="ts">
  // A square of sward seen from above: grass blades, and as many trefoils as the score has.
  let { score, size = 44 }: { score: number; size?: number } = $props()
  const counts = [0, 1, 3, 6, 9, 14]
  // Fixed places, so that a score always looks the same.
  const spots = [
    [21, 20],
    [9, 32],
    [33, 9],
    [34, 32],
    [9, 10],
    [21, 36],
    [22, 6],
    [36, 21],
    [6, 21],
    [29, 15],
    [14, 26],
    [28, 27],
    [15, 15],
    [38, 39],
  ] as const
  const blades = [
    [5, 40, 8, 28],
    [12, 42, 11, 31],
    [18, 30, 16, 18],
    [26, 42, 28, 30],
    [31, 24, 30, 12],
    [38, 42, 36, 30],
    [40, 16, 41, 5],
    [4, 18, 6, 6],
    [16, 10, 17, 2],
    [26, 12, 25, 3],
  ] as const
</script>

<svg width={size} height={size} viewBox="0 0 44 44" aria-hidden="true">
  <rect width="44" height="44" rx="6" fill="var(--feed-0)" opacity="0.55" />
  {#each blades as [x1, y1, x2, y2] (x1 * 100 + y1)}
    <path d="M{x1} {y1}Q{(x1 + x2) / 2 + 2} {(y1 + y2) / 2} {x2} {y2}" stroke="var(--feed-2)" stroke-width="1.6" fill="none" />
  {/each}
  {#each spots.slice(0, counts[score]) as [x, y] (x * 100 + y)}
    <g fill="var(--feed-3)">
      <circle cx={x} cy={y - 2.6} r="2.7" /><circle cx={x - 2.6} cy={y + 1.4} r="2.7" /><circle
        cx={x + 2.6}
        cy={y + 1.4}
        r="2.7"
      />
      <circle cx={x} cy={y} r="0.9" fill="var(--surface)" />
    </g>
  {/each}
</svg>
