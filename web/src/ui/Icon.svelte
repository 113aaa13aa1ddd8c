<script lang="ts">
  // Fjell's own line drawings on a 24 grid.
  const paths = {
    today: 'M3 19 9 9l4 6 3-4 5 8zM17.5 4.6a1.9 1.9 0 1 1 0 3.8 1.9 1.9 0 0 1 0-3.8',
    land: 'M4 7.5 9.5 4l5 2.5L20 5v11.5L14.5 20l-5-2.5L4 19zM9.5 4v13.5M14.5 6.5V20M4 13l5.5-1 5 1.5 5.5-2',
    stock: 'M5 5c-1.5 3 .5 5 3 5h8c2.5 0 4.5-2 3-5M7.5 10v4c0 3.5 2 6 4.5 6s4.5-2.5 4.5-6v-4M10.5 16.5h3',
    walk: 'M5 20c0-6 1-10 3-13M10 20c0-7 .5-12 3-16M14.5 20c0-6 1-9 4-12M3 20h18',
    queue: 'M4 6h15M4 11h11M4 16h7M4 20.5h4',
    moves: 'M3 17c2 0 3-8 5.5-8S11 15 13 15s3-9 8-9M3 20h18',
    year: 'M3 20V12h4V7h4V4h3v5h4v6h3v5zM3 16h18',
    sums: 'M5 4h14v16H5zM8 8h8M8.5 12.5h.01M12 12.5h.01M15.5 12.5h.01M8.5 16.5h.01M12 16.5h.01M15.5 16.5h.01',
    farm: 'M4 11 12 5l8 6v9H4zM9.5 20v-6h5v6',
    close: 'M6 6l12 12M18 6 6 18',
    draw: 'M5 17 8 6l10-1 2 11-8 3zM5 17l7 2',
    file: 'M12 4v11M7.5 10.5 12 15l4.5-4.5M5 19.5h14',
    cut: 'M6 4v16M12 4v16M18 4v16M3.5 7.5v9M20.5 7.5v9',
    hole: 'M4 5h16v14H4zM9 9.5h5.5V14H9z',
    fence: 'M4 20V8l2-2 2 2v12M16 20V8l2-2 2 2v12M8 11h8M8 16h8',
    thing: 'M12 4c3.5 4.5 5.5 7 5.5 10a5.5 5.5 0 0 1-11 0C6.5 11 8.500 8.500 12 4z',
    measure: 'M4 15.500 15.500 4 20 8.500 8.500 20zM8 11.500l2 2M11 8.500l2 2M14 5.500l2 2',
    table: 'M4 5h16v14H4zM4 10h16M4 14.500h16M10 5v14',
    picture: 'M4 5h16v14H4zM4 16l5-5 4 4 3-3 4 4M15.500 8.500h.01',
    undo: 'M9 7 4.500 11.500 9 16M5 11.500h9a5 5 0 0 1 0 10h-2',
    redo: 'M15 7l4.500 4.500L15 16M19 11.500h-9a5 5 0 0 0 0 10h2',
    zoom: 'M4 9V4h5M20 9V4h-5M4 15v5h5M20 15v5h-5',
    nearer: 'M12 5v14M5 12h14',
    farther: 'M5 12h14',
    back: 'M14.5 5 8 12l6.5 7',
    on: 'M9.5 5 16 12l-6.5 7',
    up: 'M12 19V6M6.5 11 12 5.5 17.5 11',
    down: 'M12 5v13M6.5 13l5.5 5.5L17.5 13',
    pin: 'M9 4h6l-1 6 3 3H7l3-3zM12 13v7',
    more: 'M5 12h.01M12 12h.01M19 12h.01',
    help: 'M5 4.5h3.500l1.500 4-2 1.500a10 10 0 0 0 6 6l1.500-2 4 1.500V19c0 .8-.7 1.500-1.500 1.500C10 20.500 3.500 14 3.500 6c0-.8.7-1.500 1.500-1.500zM17 3.500v6M14 6.500h6',
    tick: 'M5 12.5 10 17.5 19 7',
  } as const
  type IconName = keyof typeof paths
  let { name, size = 24 }: { name: IconName; size?: number } = $props()
</script>

<svg
  width={size}
  height={size}
  viewBox="0 0 24 24"
  fill="none"
  stroke="currentColor"
  stroke-width="1.8"
  stroke-linecap="round"
  stroke-linejoin="round"
  aria-hidden="true"
>
  <path d={paths[name]} />
</svg>
