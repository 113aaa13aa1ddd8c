import type { FeatureLike } from 'ol/Feature'
import { LineString, MultiPolygon, Point } from 'ol/geom'
import { Circle, Fill, Icon, RegularShape, Stroke, Style, Text } from 'ol/style'
import type { Schemas } from '../api/client'
import { now } from '../ui/time.svelte'
import { withUnit, type System } from '../ui/units'
import { hatch } from './hatch'

// How the map is drawn: colours from the theme, hatchings for ground that is not grazed now, labels where there is room.

export type Paddock = Schemas['PaddockView']
export type ColourBy = 'feed' | 'rest' | 'readiness' | 'productivity' | 'grazed'

export const font = (size: number, bold = true) =>
  `${bold ? '700 ' : ''}${size}px "Atkinson Hyperlegible Next Variable", sans-serif`

export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}

/** How dark a paddock is drawn, by what the map is coloured by: 0 light to 4 dark; null where nobody knows. */
interface Scale {
  tone: (p: Paddock) => number | null
}

const above = (value: number, steps: number[]) => steps.filter((s) => value >= s).length
const daysSince = (at: string) => (now().getTime() - new Date(at).getTime()) / 86400e3

export const scales: Record<ColourBy, Scale> = {
  feed: {
    tone: (p) => above(p.mass.forage_mass_kg_dm_ha, [1300, 1800, 2300, 2900]),
  },
  rest: {
    tone: (p) => (p.mob_ids.length ? 0 : p.rest_days === null ? null : above(p.rest_days, [7, 14, 24, 35])),
  },
  readiness: {
    tone: (p) => ({ stop: 0, resting: 1, soon: 2, ready: 3, mind: 4 })[p.state as string] ?? 0,
  },
  productivity: {
    tone: (p) => above(p.growth_factor, [0.6, 0.85, 1.05, 1.3]),
  },
  grazed: {
    tone: (p) => (p.mob_ids.length ? 4 : p.last_grazed ? 4 - above(daysSince(p.last_grazed), [7, 21, 42, 90]) : null),
  },
}

export function ink(tone: number): string {
  return tone < 3 ? '#1E2A2F' : '#FFFFFF'
}

/** Pixels of ground left and right of where a label stands. */
function room(f: FeatureLike, resolution: number): number {
  const points = (f.getGeometry() as MultiPolygon).getInteriorPoints().getFlatCoordinates()
  return (points[2] ?? 0) / resolution
}

/** A name in as many lines as the ground is wide for; on narrow ground only its last word. */
function label(name: string, width: number): string[] {
  if (name.length * 8.2 <= width) return [name]
  const words = name.split(' ')
  return Math.max(...words.map((w) => w.length)) * 8.2 <= width ? words : [words[words.length - 1] ?? name]
}

export interface Look {
  system: System
  by: ColourBy
  still: boolean
  selected: Set<string>
  /** names are not written while a division lies over the map */
  quiet: boolean
}

export function exclusionStyle(f: FeatureLike, look: Look): Style[] {
  return [
    new Style({
      zIndex: 3,
      fill: new Fill({ color: token('--paper') }),
      stroke: new Stroke({ color: token('--soft'), width: 1, lineDash: [3, 3] }),
    }),
    new Style({
      zIndex: 4,
      fill: new Fill({ color: hatch(135, token('--soft')) }),
      text:
        look.still || look.quiet || f.get('lane')
          ? undefined
          : new Text({
              text: f.get('name') as string,
              font: font(13, false),
              fill: new Fill({ color: token('--ink') }),
              stroke: new Stroke({ color: token('--paper'), width: 4 }),
            }),
    }),
  ]
}

export function zoneStyle(f: FeatureLike): Style[] {
  return [
    new Style({
      zIndex: 5,
      stroke: new Stroke({ color: token('--ink'), width: 1.5, lineDash: [2, 5] }),
      text: new Text({
        text: `${f.get('name')} × ${f.get('factor')}`,
        font: font(12, false),
        placement: 'line',
        fill: new Fill({ color: token('--ink') }),
        stroke: new Stroke({ color: token('--paper'), width: 3 }),
        overflow: false,
      }),
    }),
  ]
}

export function paddockStyle(f: FeatureLike, resolution: number, look: Look): Style[] {
  const p = f.get('paddock') as Paddock
  const known = scales[look.by].tone(p)
  const t = known ?? 0
  const chosen = look.selected.has(p.id)
  const styles = [
    new Style({
      fill: new Fill({ color: known === null ? token('--sunken') : token(`--feed-${t}`) }),
      stroke: new Stroke({ color: chosen ? token('--tarn') : token('--surface'), width: chosen ? 5 : 2 }),
      zIndex: chosen ? 5 : 1,
    }),
  ]
  const wet = p.wetness === 'wet'
  if (p.closed_now || p.mass.guessed || known === null || wet) {
    const angle = p.closed_now ? 45 : wet ? 90 : 0
    const dark = p.closed_now || wet || known === null
    styles.push(
      new Style({
        zIndex: 6,
        fill: new Fill({ color: hatch(angle, dark ? 'rgba(30,42,47,.5)' : 'rgba(255,255,255,.55)') }),
      }),
    )
  }
  if (look.still) return styles
  const second = p.closed_now
    ? p.purpose === 'grazing'
      ? 'closed'
      : p.purpose
    : p.off_equal !== null && Math.abs(p.off_equal) >= 0.015
      ? `${Math.abs(Math.round(p.off_equal * 100))} % ${p.off_equal > 0 ? 'larger' : 'smaller'}`
      : withUnit(p.area_ha, 'ha', look.system)
  const width = room(f, resolution)
  const box = (f.getGeometry() as MultiPolygon).getExtent()
  const tall = (box[3]! - box[1]!) / resolution
  const fits = label(p.name, width)
  const lines = fits.length * 19 + 16 <= tall * 0.8 || fits.length === 1 ? fits : label(p.name, 0)
  styles.push(
    new Style({
      zIndex: 7,
      text: new Text({
        text:
          width < 54
            ? lines.flatMap((w) => [w, font(15)])
            : [...lines.flatMap((w) => [w, font(15), '\n', '']), second, font(13, false)],
        fill: new Fill({ color: known === null ? token('--ink') : ink(t) }),
        stroke: new Stroke({ color: known === null ? token('--sunken') : token(`--feed-${t}`), width: 3 }),
        offsetY: p.mob_ids.length ? 14 : 0,
        overflow: true,
      }),
    }),
  )
  return styles
}

const markPaths: Record<string, string> = {
  water: 'M0-8C4-3 6 0 6 3A6 6 0 0 1-6 3C-6 0-4-3 0-8Z',
  gate: 'M-7-5V6M7-5V6M-7-2H7M-7 3H7M-7 3L7-2',
}

const markPictures = new Map<string, string>()

function markPicture(kind: string): string {
  const key = `${kind} ${document.documentElement.dataset.theme}`
  const before = markPictures.get(key)
  if (before) return before
  const tarn = token('--tarn')
  const water = kind === 'water'
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="28" height="28" viewBox="-14 -14 28 28"><circle r="12.5" fill="${water ? tarn : token('--surface')}" stroke="${water ? token('--surface') : tarn}" stroke-width="2"/><path d="${markPaths[kind]}" fill="${water ? token('--surface') : 'none'}" stroke="${water ? 'none' : tarn}" stroke-width="1.8" stroke-linecap="round"/></svg>`
  const made = 'data:image/svg+xml;utf8,' + encodeURIComponent(svg)
  markPictures.set(key, made)
  return made
}

export function markStyle(f: FeatureLike): Style[] {
  const m = f.get('mark') as Schemas['MarkView']
  if (m.path.length === 1) return [new Style({ zIndex: 8, image: new Icon({ src: markPicture(m.kind) }) })]
  if (m.kind === 'lane')
    return [
      new Style({
        zIndex: 4,
        text: new Text({
          text: m.name,
          font: font(12, false),
          placement: 'line',
          fill: new Fill({ color: token('--ink') }),
          stroke: new Stroke({ color: token('--paper'), width: 4 }),
        }),
        stroke: new Stroke({ color: token('--soft'), width: 1, lineDash: [6, 6] }),
      }),
    ]
  return [
    new Style({ zIndex: 7, stroke: new Stroke({ color: token('--surface'), width: 5 }) }),
    new Style({
      zIndex: 8,
      stroke: new Stroke({ color: token('--ink'), width: 2.5, lineDash: m.temporary ? [8, 6] : undefined }),
    }),
  ]
}

/** The parts of a division, its fences and posts, and the handle that turns them. */
export function divisionStyle(f: FeatureLike, resolution: number): Style[] {
  const kind = f.get('kind') as string
  if (kind === 'cut')
    return [
      new Style({ stroke: new Stroke({ color: token('--surface'), width: 6 }), zIndex: 3 }),
      new Style({ stroke: new Stroke({ color: token('--now'), width: 3.5, lineDash: [10, 7] }), zIndex: 4 }),
    ]
  if (kind === 'post')
    return [
      new Style({
        zIndex: 5,
        image: new Circle({
          radius: 4,
          fill: new Fill({ color: token('--surface') }),
          stroke: new Stroke({ color: token('--now'), width: 2.5 }),
        }),
      }),
    ]
  if (kind === 'handle') {
    const centre = f.get('centre') as number[]
    const at = (f.getGeometry() as Point).getCoordinates()
    return [
      new Style({
        geometry: new LineString([centre, at]),
        stroke: new Stroke({ color: token('--now'), width: 2.5, lineDash: [2, 6] }),
      }),
      new Style({
        image: new Circle({
          radius: 15,
          fill: new Fill({ color: token('--surface') }),
          stroke: new Stroke({ color: token('--now'), width: 5 }),
        }),
        text: new Text({
          text: `turn, ${Math.round(f.get('direction') as number)}°`,
          font: font(14),
          textAlign: 'left',
          offsetX: 24,
          fill: new Fill({ color: token('--now-ink') }),
          stroke: new Stroke({ color: token('--paper'), width: 4 }),
        }),
        zIndex: 9,
      }),
    ]
  }
  const t = f.get('tone') as number
  const pieces = f.get('pieces') as number
  return [
    new Style({ fill: new Fill({ color: token(`--feed-${t}`) }), zIndex: 1 }),
    ...(pieces > 1 ? [new Style({ fill: new Fill({ color: hatch(90, token('--stop')) }), zIndex: 2 })] : []),
    new Style({
      zIndex: 6,
      text: new Text({
        text: partLabel(f, room(f, resolution)),
        fill: new Fill({ color: ink(t) }),
        stroke: new Stroke({ color: token(`--feed-${t}`), width: 3 }),
        overflow: true,
      }),
    }),
  ]
}

/** A part's number, and under it what fits of its area and days: on one line, on two, or not at all. */
function partLabel(f: FeatureLike, width: number): string[] {
  const head = [String((f.get('index') as number) + 1), font(width < 34 ? 16 : 24)]
  const lines = (f.get('lines') as string[]).filter(Boolean)
  const one = lines.join(' · ')
  if (one.length * 7 <= width) return [...head, '\n', '', one, font(13)]
  if (Math.max(...lines.map((l) => l.length)) * 7 <= width) return [...head, ...lines.flatMap((l) => ['\n', '', l, font(13)])]
  return head
}

/** Lines and corners while somebody draws. */
export const drawStyle = () => [
  new Style({ fill: new Fill({ color: 'rgba(217,130,43,.18)' }), stroke: new Stroke({ color: token('--now'), width: 3 }) }),
  new Style({
    image: new Circle({
      radius: 7,
      fill: new Fill({ color: token('--surface') }),
      stroke: new Stroke({ color: token('--now'), width: 3 }),
    }),
  }),
]

/** A corner that can be dragged. */
export const cornerStyle = (chosen: boolean) =>
  new Style({
    zIndex: 9,
    image: new RegularShape({
      points: 4,
      radius: chosen ? 11 : 8,
      angle: Math.PI / 4,
      fill: new Fill({ color: chosen ? token('--now') : token('--surface') }),
      stroke: new Stroke({ color: chosen ? token('--surface') : token('--tarn'), width: 2.5 }),
    }),
  })
