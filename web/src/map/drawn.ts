import OlMap from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import { getCenter, type Extent } from 'ol/extent'
import Feature, { type FeatureLike } from 'ol/Feature'
import { LineString, MultiPolygon, Point, Polygon } from 'ol/geom'
import { defaults, Draw, Snap, Translate } from 'ol/interaction'
import Collection from 'ol/Collection'
import Graticule from 'ol/layer/Graticule'
import VectorLayer from 'ol/layer/Vector'
import { fromLonLat, toLonLat } from 'ol/proj'
import VectorSource from 'ol/source/Vector'
import { Circle, Fill, Icon, Stroke, Style, Text } from 'ol/style'
import type { Schemas } from '../api/client'
import { svgPoints } from '../ui/glyph'
import { withUnit, type System } from '../ui/units'
import { hatch } from './hatch'

export type Ring = [number, number][]
export type GroundShape = Ring[][]

export interface Picture {
  land: Schemas['LandView']
  mobs: Schemas['MobView'][]
  routes: { mob: string; from: string; to: string }[]
  selected: string
  system: System
}

const font = (size: number, bold = true) => `${bold ? '700 ' : ''}${size}px "Atkinson Hyperlegible Next Variable", sans-serif`

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}

/** Steps of forage mass, kg/ha, at which the ground takes the next darker tone. */
const steps = [1300, 1800, 2300, 2900]

function tone(mass: number): number {
  return steps.filter((s) => mass >= s).length
}

function ground(shape: number[][][][]): MultiPolygon {
  return new MultiPolygon(shape.map((poly) => poly.map((ring) => ring.map((p) => fromLonLat(p)))))
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

/** The farm on a canvas: paddocks by feed, mobs, a division being looked at, and the drawing tools. */
export class FarmCanvas {
  readonly map: OlMap
  private readonly paper: VectorLayer
  private readonly layers: Record<'fields' | 'paddocks' | 'marks' | 'division', VectorSource>
  private picture: Picture | null = null
  private division: Schemas['DivisionView'] | null = null
  private drawing: (Draw | Snap)[] = []
  private handle: Feature<Point> | null = null
  private turning: Translate | null = null
  private turningField = ''
  private fitted = ''

  constructor(
    target: HTMLElement,
    private readonly still: boolean,
    onpick: (paddock: string, field: string) => void,
    private readonly onturn: (direction: number) => void,
  ) {
    const sources = {
      fields: new VectorSource(),
      paddocks: new VectorSource(),
      marks: new VectorSource(),
      division: new VectorSource(),
    }
    this.layers = sources
    const layer = (source: VectorSource, style: (f: FeatureLike, resolution: number) => Style[], declutter = false) =>
      new VectorLayer({ source, style, declutter })
    this.paper = layer(sources.fields, () => [])
    this.map = new OlMap({
      target,
      controls: still ? [] : [new ScaleLine({ minWidth: 90 })],
      interactions: still ? [] : defaults({ altShiftDragRotate: false, pinchRotate: false }),
      layers: [
        new Graticule({
          strokeStyle: new Stroke({ color: token('--paper-line'), width: 1 }),
          showLabels: false,
          wrapX: false,
          targetSize: 90,
        }),
        this.paper,
        layer(sources.paddocks, (f, r) => this.paddockStyle(f, r), true),
        layer(sources.division, (f) => this.divisionStyle(f), true),
        layer(sources.marks, (f) => f.get('style') as Style[]),
      ],
      view: new View({ center: fromLonLat([9, 61]), zoom: 14, maxZoom: 21, minZoom: 3, enableRotation: false }),
    })
    if (!still) {
      this.map.on('singleclick', (e) => {
        if (this.drawing.length) return
        const hit = this.map.forEachFeatureAtPixel(e.pixel, (f) => (f.get('kind') === 'paddock' ? f : undefined))
        onpick((hit?.getId() as string) ?? '', (hit?.get('field') as string) ?? '')
      })
    }
  }

  dispose() {
    this.map.setTarget(undefined)
  }

  show(picture: Picture) {
    this.picture = picture
    const { land } = picture
    this.layers.paddocks.clear()
    this.layers.fields.clear()
    this.layers.marks.clear()
    for (const p of land.paddocks) {
      const f = new Feature({ geometry: ground(p.shape), kind: 'paddock', field: p.field_id, paddock: p })
      f.setId(p.id)
      this.layers.paddocks.addFeature(f)
    }
    for (const field of land.fields) {
      for (const e of field.exclusions) {
        const f = new Feature({ geometry: ground(e.shape), kind: 'exclusion', name: e.name })
        this.layers.paddocks.addFeature(f)
      }
    }
    this.marks(picture)
    const key = land.fields.map((f) => f.id).join()
    if (key && key !== this.fitted) {
      this.fitted = key
      this.fit()
    }
    this.map.getControls().forEach((c) => {
      if (c instanceof ScaleLine) c.setUnits(picture.system === 'imperial' ? 'imperial' : 'metric')
    })
  }

  /** Puts the view on everything, or on one field. */
  fit(field = '') {
    let extent: Extent | null = this.layers.paddocks.getExtent() ?? null
    if (field) {
      const of = this.layers.paddocks.getFeatures().filter((f) => f.get('field') === field)
      extent = of.length ? new VectorSource({ features: of.map((f) => f.clone()) }).getExtent() : null
    }
    if (!extent || !Number.isFinite(extent[0]) || extent[0]! > extent[2]!) return
    this.map.updateSize()
    const pad = this.still ? 14 : field ? 110 : 50
    this.map.getView().fit(extent, { padding: [pad, pad, pad, this.still ? pad : pad + 60], maxZoom: 19 })
  }

  lookAt(lon: number, lat: number) {
    if (!this.fitted) this.map.getView().setCenter(fromLonLat([lon, lat]))
  }

  private middle(id: string): number[] | null {
    const f = this.layers.paddocks.getFeatureById(id) as Feature<MultiPolygon> | null
    return f?.getGeometry()?.getInteriorPoints().getFirstCoordinate() ?? null
  }

  private marks({ mobs, routes, land }: Picture) {
    for (const r of routes) {
      const from = this.middle(r.from)
      const to = this.middle(r.to)
      if (!from || !to) continue
      this.layers.marks.addFeature(
        new Feature({
          geometry: new LineString([from, to]),
          style: [
            new Style({ stroke: new Stroke({ color: token('--surface'), width: 6 }) }),
            new Style({ stroke: new Stroke({ color: token('--now'), width: 3, lineDash: [8, 6] }) }),
            new Style({
              geometry: new Point(to),
              image: new Circle({
                radius: 6,
                fill: new Fill({ color: token('--now') }),
                stroke: new Stroke({ color: token('--surface'), width: 2 }),
              }),
            }),
          ],
        }),
      )
    }
    for (const p of land.paddocks) {
      const here = mobs.filter((m) => p.mob_ids.includes(m.id))
      const at = this.middle(p.id)
      if (!at) continue
      here.forEach((m, i) => {
        this.layers.marks.addFeature(
          new Feature({
            geometry: new Point(at),
            style: [
              new Style({
                image: new Icon({
                  src: glyphPicture(m.glyph, m.letter),
                  displacement: [(i - (here.length - 1) / 2) * 36, this.still ? 0 : 26],
                }),
              }),
            ],
          }),
        )
      })
    }
  }

  private paddockStyle(f: FeatureLike, resolution: number): Style[] {
    const line = token('--surface')
    if (f.get('kind') === 'exclusion') {
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
            this.still || this.division
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
    const p = f.get('paddock') as Schemas['PaddockView']
    const faded = this.division && this.turningField === p.field_id
    if (faded) return [new Style({ stroke: new Stroke({ color: token('--tarn'), width: 3 }) })]
    const t = tone(p.mass.forage_mass_kg_dm_ha)
    const chosen = this.picture?.selected === p.id
    const styles = [
      new Style({
        fill: new Fill({ color: token(`--feed-${t}`) }),
        stroke: new Stroke({ color: chosen ? token('--tarn') : line, width: chosen ? 5 : 2 }),
        zIndex: chosen ? 5 : 1,
      }),
    ]
    if (p.closed_for || p.mass.guessed)
      styles.push(
        new Style({
          zIndex: 6,
          fill: new Fill({ color: hatch(p.closed_for ? 45 : 0, p.closed_for ? 'rgba(30,42,47,.55)' : 'rgba(255,255,255,.55)') }),
        }),
      )
    if (!this.still) {
      const ink = t < 3 ? '#1E2A2F' : '#FFFFFF'
      const second = p.closed_for ? 'closed' : withUnit(p.area_ha, 'ha', this.picture?.system ?? 'metric')
      const width = room(f, resolution)
      const lines = label(p.name, width)
      styles.push(
        new Style({
          zIndex: 7,
          text: new Text({
            text:
              width < 54
                ? lines.flatMap((w) => [w, font(15)])
                : [...lines.flatMap((w) => [w, font(15), '\n', '']), second, font(13, false)],
            fill: new Fill({ color: ink }),
            stroke: new Stroke({ color: token(`--feed-${t}`), width: 3 }),
            offsetY: p.mob_ids.length ? 14 : 0,
            overflow: true,
          }),
        }),
      )
    }
    return styles
  }

  private divisionStyle(f: FeatureLike): Style[] {
    const kind = f.get('kind') as string
    if (kind === 'cut') {
      return [
        new Style({ stroke: new Stroke({ color: token('--surface'), width: 6 }) }),
        new Style({ stroke: new Stroke({ color: token('--now'), width: 3.5, lineDash: [10, 7] }) }),
      ]
    }
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
          zIndex: 9,
        }),
      ]
    }
    const i = f.get('index') as number
    const pieces = f.get('pieces') as number
    const t = [2, 3][i % 2]!
    return [
      new Style({ fill: new Fill({ color: token(`--feed-${t}`) }) }),
      ...(pieces > 1 ? [new Style({ fill: new Fill({ color: hatch(90, token('--stop')) }) })] : []),
      new Style({
        text: new Text({
          text: [String(i + 1), font(24), '\n', '', f.get('label'), font(13)],
          fill: new Fill({ color: t < 3 ? '#1E2A2F' : '#FFFFFF' }),
          stroke: new Stroke({ color: token(`--feed-${t}`), width: 3 }),
          overflow: true,
        }),
      }),
    ]
  }

  /** Shows a division over its field, with a handle that turns its fences. */
  preview(division: Schemas['DivisionView'] | null, field: string) {
    this.division = division
    const fresh = this.turningField !== field
    this.turningField = division ? field : ''
    this.layers.division.clear()
    this.layers.paddocks.changed()
    if (!division) {
      if (this.turning) this.map.removeInteraction(this.turning)
      this.turning = this.handle = null
      return
    }
    division.parts.forEach((p, i) => {
      const label = withUnit(p.area_ha, 'ha', this.picture?.system ?? 'metric')
      this.layers.division.addFeature(new Feature({ geometry: ground(p.shape), kind: 'part', index: i, label, pieces: p.pieces }))
    })
    for (const c of division.cuts)
      this.layers.division.addFeature(new Feature({ geometry: new LineString(c.map((p) => fromLonLat(p))), kind: 'cut' }))
    this.placeHandle(division.direction_degrees, fresh)
  }

  private placeHandle(direction: number, fresh: boolean) {
    const extent = new VectorSource({ features: this.layers.division.getFeatures() }).getExtent()
    if (!extent) return
    const centre = getCenter(extent)
    const [w, h] = this.map.getSize() ?? [600, 600]
    // Outside the field where there is room for it, but always where a hand can reach it.
    const reach = 0.42 * Math.min(w!, h!) * (this.map.getView().getResolution() ?? 1)
    const radius = Math.min(Math.hypot(extent[2]! - extent[0]!, extent[3]! - extent[1]!) * 0.56, reach)
    const at = (deg: number) => {
      const a = (deg * Math.PI) / 180
      return [centre[0]! + radius * Math.sin(a), centre[1]! + radius * Math.cos(a)]
    }
    if (!this.handle || fresh) {
      if (this.turning) this.map.removeInteraction(this.turning)
      const handle = new Feature<Point>({ geometry: new Point(at(direction)), kind: 'handle', centre })
      this.handle = handle
      this.turning = new Translate({ features: new Collection([handle]), hitTolerance: 14 })
      this.turning.on('translating', () => {
        const p = handle.getGeometry()!.getCoordinates()
        const c = handle.get('centre') as number[]
        this.onturn((((Math.atan2(p[0]! - c[0]!, p[1]! - c[1]!) * 180) / Math.PI + 360) % 180) as number)
      })
      this.turning.on('translateend', () => this.division && this.settle(this.division.direction_degrees, at))
      this.map.addInteraction(this.turning)
    }
    this.layers.division.addFeature(this.handle)
    // A handle on the far side is as good: fences have two ends.
    const p = this.handle.getGeometry()!.getCoordinates()
    const seen = ((Math.atan2(p[0]! - centre[0]!, p[1]! - centre[1]!) * 180) / Math.PI + 360) % 180
    if (Math.abs(((seen - direction + 270) % 180) - 90) > 0.6) this.settle(direction, at)
  }

  private settle(direction: number, at: (deg: number) => number[]) {
    const p = this.handle?.getGeometry()?.getCoordinates()
    if (!p) return
    const [a, b] = [at(direction), at(direction + 180)]
    const near = Math.hypot(a[0]! - p[0]!, a[1]! - p[1]!) <= Math.hypot(b[0]! - p[0]!, b[1]! - p[1]!) ? a : b
    this.handle!.getGeometry()!.setCoordinates(near)
  }

  /** Lets a person draw a boundary corner by corner. Esc starts over, Backspace takes the last corner back. */
  draw(done: (shape: GroundShape) => void) {
    this.stopDrawing()
    const source = new VectorSource()
    const draw = new Draw({
      source,
      type: 'Polygon',
      minPoints: 3,
      style: [
        new Style({ fill: new Fill({ color: 'rgba(217,130,43,.18)' }), stroke: new Stroke({ color: token('--now'), width: 3 }) }),
        new Style({
          image: new Circle({
            radius: 7,
            fill: new Fill({ color: token('--surface') }),
            stroke: new Stroke({ color: token('--now'), width: 3 }),
          }),
        }),
      ],
    })
    draw.on('drawend', (e) => {
      const rings = (e.feature.getGeometry() as Polygon)
        .getCoordinates()
        .map((r) => r.map((p) => toLonLat(p).slice(0, 2) as [number, number]))
      setTimeout(() => {
        this.stopDrawing()
        done([rings])
      })
    })
    const snap = new Snap({ source: this.layers.paddocks })
    this.drawing = [draw, snap]
    for (const i of this.drawing) this.map.addInteraction(i)
  }

  drawKey(key: string): boolean {
    const draw = this.drawing.find((i) => i instanceof Draw)
    if (!draw) return false
    if (key === 'Backspace') draw.removeLastPoint()
    else if (key === 'Escape') draw.abortDrawing()
    else return false
    return true
  }

  stopDrawing() {
    for (const i of this.drawing) this.map.removeInteraction(i)
    this.drawing = []
  }

  /** Shows a drawn or brought-in boundary before it is kept. */
  sketch(shape: GroundShape | null) {
    this.layers.division.clear()
    if (!shape) return
    this.layers.division.addFeature(new Feature({ geometry: ground(shape), kind: 'cut' }))
    const extent = this.layers.division.getExtent()
    if (extent && !this.picture?.land.fields.length) this.map.getView().fit(extent, { padding: [60, 60, 60, 120], maxZoom: 18 })
  }

  repaint() {
    this.map.getLayers().forEach((l) => l.changed())
  }
}

function glyphPicture(glyph: string, letter: string): string {
  const tones: Record<string, string> = {
    triangle: '--mob-0',
    circle: '--mob-1',
    square: '--mob-2',
    diamond: '--mob-3',
    hexagon: '--mob-4',
  }
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40" viewBox="-20 -20 40 40"><polygon points="${svgPoints(glyph, 34)}" fill="${token(tones[glyph] ?? '--mob-0')}" stroke="#fff" stroke-width="2.5"/><text y="${glyph === 'triangle' ? 11 : 6}" text-anchor="middle" font-family="sans-serif" font-size="16" font-weight="700" fill="#fff">${letter}</text></svg>`
  return 'data:image/svg+xml;utf8,' + encodeURIComponent(svg)
}
