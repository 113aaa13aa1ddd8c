import type OlMap from 'ol/Map'
import Collection from 'ol/Collection'
import Feature from 'ol/Feature'
import { Circle as CircleGeometry, LineString, Point, Polygon } from 'ol/geom'
import { Draw, Snap, Translate } from 'ol/interaction'
import type Interaction from 'ol/interaction/Interaction'
import VectorLayer from 'ol/layer/Vector'
import { fromLonLat, toLonLat } from 'ol/proj'
import { getDistance } from 'ol/sphere'
import VectorSource from 'ol/source/Vector'
import { Circle, Fill, Stroke, Style } from 'ol/style'
import type { Schemas } from '../api/client'
import type { GroundShape } from './drawn'
import { cornerStyle, drawStyle, token } from './styles'

export type Lonlat = [number, number]
type Kind = 'ground' | 'line' | 'place'

const position = (p: number[]) => toLonLat(p).slice(0, 2) as Lonlat

/** What a hand does on the map: drawing ground, lines and places, and moving corners. */
export class Tools {
  private active: Interaction[] = []
  private readonly source = new VectorSource()
  private readonly layer: VectorLayer
  private cornersOn: ((at: Lonlat, to: Lonlat | null) => void) | null = null
  private chosen: Feature<Point> | null = null
  private ended = -1000
  /** Hears in words which corner is chosen, and how far it went. */
  said: (text: string) => void = () => {}

  constructor(
    private readonly map: OlMap,
    private readonly paddocks: VectorSource,
  ) {
    this.layer = new VectorLayer({ source: this.source, zIndex: 20 })
    map.addLayer(this.layer)
  }

  /** Something is being drawn, or its last click is just heard: a click on the map is not a choice. */
  get busy(): boolean {
    return this.active.length > 0 || performance.now() - this.ended < 600
  }

  /** Lets a person draw. Esc starts over, Backspace takes the last corner back. */
  draw(kind: Kind, done: (path: Lonlat[], shape: GroundShape) => void, moving?: (path: Lonlat[]) => void) {
    this.stop()
    const source = new VectorSource()
    const type = kind === 'ground' ? 'Polygon' : kind === 'line' ? 'LineString' : 'Point'
    const draw = new Draw({ source, type, minPoints: kind === 'ground' ? 3 : 2, style: drawStyle() })
    draw.on('drawstart', (e) => {
      if (!moving) return
      e.feature.getGeometry()?.on('change', () => {
        const g = e.feature.getGeometry()
        if (g instanceof LineString) moving(g.getCoordinates().map(position))
        else if (g instanceof Polygon) moving((g.getCoordinates()[0] ?? []).map(position))
      })
    })
    draw.on('drawend', (e) => {
      const g = e.feature.getGeometry()
      this.ended = performance.now()
      setTimeout(() => {
        this.stop()
        if (g instanceof Point) done([position(g.getCoordinates())], [])
        else if (g instanceof LineString) done(g.getCoordinates().map(position), [])
        else if (g instanceof Polygon) {
          const rings = g.getCoordinates().map((r) => r.map(position))
          done(rings[0] ?? [], [rings])
        }
      })
    })
    this.use(draw, new Snap({ source: this.paddocks, pixelTolerance: 12 }))
  }

  private use(...interactions: Interaction[]) {
    this.active = interactions
    for (const i of interactions) this.map.addInteraction(i)
  }

  key(key: string): boolean {
    const draw = this.active.find((i) => i instanceof Draw)
    if (draw instanceof Draw) {
      if (key === 'Backspace') draw.removeLastPoint()
      else if (key === 'Escape') draw.abortDrawing()
      else if (key === 'Enter') draw.finishDrawing()
      else return false
      return true
    }
    return this.cornersOn ? this.cornerKey(key) : false
  }

  stop() {
    for (const i of this.active) this.map.removeInteraction(i)
    this.active = []
    this.cornersOn = null
    this.chosen = null
    this.source.clear(true)
  }

  /** Shows every corner as a handle; dragging one tells where it goes, dragging the middle of a fence puts a new one. */
  editCorners(land: Schemas['LandView'], done: (at: Lonlat, to: Lonlat | null) => void) {
    this.stop()
    this.cornersOn = done
    this.corners(land)
  }

  /** Lays the handles anew after the land changed. */
  corners(land: Schemas['LandView']) {
    const done = this.cornersOn
    if (!done) return
    for (const i of this.active) this.map.removeInteraction(i)
    this.source.clear(true)
    this.chosen = null
    const seen = new Set<string>()
    const handles: Feature<Point>[] = []
    const mark = (at: number[]) => `${Math.round(at[0]! * 5)} ${Math.round(at[1]! * 5)}`
    const whose = new Map<string, string[]>()
    const add = (at: number[], fresh: boolean) => {
      const key = mark(at)
      if (seen.has(key)) return
      seen.add(key)
      const f = new Feature({ geometry: new Point(at) })
      f.set('at', position(at))
      f.set('fresh', fresh)
      f.set('names', whose.get(key) ?? [])
      f.setStyle(fresh ? freshStyle() : cornerStyle(false))
      handles.push(f)
    }
    const rings: number[][][] = []
    for (const p of land.paddocks)
      for (const r of p.shape.flat()) {
        const ring = r.map((x) => fromLonLat(x))
        rings.push(ring)
        for (const at of ring) {
          const names = whose.get(mark(at)) ?? []
          if (!names.includes(p.name)) whose.set(mark(at), [...names, p.name])
        }
      }
    for (const r of rings) for (const at of r) add(at, false)
    for (const r of rings)
      for (let i = 1; i < r.length; i++) {
        const [a, b] = [r[i - 1]!, r[i]!]
        if (Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!) > 40) add([(a[0]! + b[0]!) / 2, (a[1]! + b[1]!) / 2], true)
      }
    this.source.addFeatures(handles)
    const drag = new Translate({ features: new Collection(handles), hitTolerance: 8 })
    drag.on('translatestart', (e) => this.choose(e.features.item(0) as Feature<Point>))
    drag.on('translateend', (e) => {
      const f = e.features.item(0) as Feature<Point>
      const to = f.getGeometry()!.getCoordinates()
      const from = fromLonLat(f.get('at') as Lonlat)
      // A tap chooses the corner and leaves it where it is.
      const pixels = Math.hypot(to[0]! - from[0]!, to[1]! - from[1]!) / (this.map.getView().getResolution() ?? 1)
      if (pixels > 2) {
        this.said(`Moved ${Math.round(getDistance(f.get('at') as Lonlat, position(to)))} metres`)
        done(f.get('at') as Lonlat, position(to))
      } else f.getGeometry()!.setCoordinates(from)
    })
    this.use(drag, new Snap({ source: this.paddocks, pixelTolerance: 6 }))
  }

  private choose(f: Feature<Point>) {
    this.chosen?.setStyle(this.chosen.get('fresh') ? freshStyle() : cornerStyle(false))
    this.chosen = f
    f.setStyle(cornerStyle(true))
  }

  /** Takes the chosen corner out; false when none is chosen. */
  removeChosen(): boolean {
    if (!this.chosen || this.chosen.get('fresh')) return false
    this.cornersOn?.(this.chosen.get('at') as Lonlat, null)
    return true
  }

  /** Corners by keys: N and P go through them, arrows move the chosen one by a metre, Delete takes it out. */
  private cornerKey(key: string): boolean {
    const corners = this.source.getFeatures().filter((f) => !f.get('fresh')) as Feature<Point>[]
    const k = this.chosen ? corners.indexOf(this.chosen) : -1
    if (key === 'n' || key === 'p') {
      const next = corners[(k + (key === 'n' ? 1 : corners.length - 1) + (k < 0 && key === 'p' ? 1 : 0)) % corners.length]
      if (next) {
        this.choose(next)
        this.said(`Corner ${corners.indexOf(next) + 1} of ${corners.length}, ${(next.get('names') as string[]).join(' and ')}`)
        this.map.getView().animate({ center: next.getGeometry()!.getCoordinates(), duration: 120 })
      }
      return true
    }
    if (!this.chosen) return false
    const at = this.chosen.get('at') as Lonlat
    if (key === 'Delete') return this.removeChosen()
    const step = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[key]
    if (!step) return false
    this.said(`Moved one metre ${{ ArrowUp: 'north', ArrowDown: 'south', ArrowLeft: 'west', ArrowRight: 'east' }[key]}`)
    const metre = 1 / 111320
    this.cornersOn?.(at, [at[0] + (step[0]! * metre) / Math.cos((at[1] * Math.PI) / 180), at[1] + step[1]! * metre])
    return true
  }

  /** Shows where a walker is, how well the receiver knows it, and the way so far. */
  walker(path: Lonlat[], accuracy: number) {
    this.source.clear(true)
    const last = path[path.length - 1]
    if (!last) return
    const at = fromLonLat(last)
    const line = new Feature({ geometry: new LineString(path.map((p) => fromLonLat(p))) })
    line.setStyle(new Style({ stroke: new Stroke({ color: token('--now'), width: 4 }) }))
    const around = new Feature({ geometry: new CircleGeometry(at, accuracy / Math.cos((last[1] * Math.PI) / 180)) })
    around.setStyle(
      new Style({ fill: new Fill({ color: 'rgba(15,76,92,.12)' }), stroke: new Stroke({ color: token('--tarn'), width: 1.5 }) }),
    )
    const dot = new Feature({ geometry: new Point(at) })
    dot.setStyle(
      new Style({
        image: new Circle({
          radius: 9,
          fill: new Fill({ color: token('--tarn') }),
          stroke: new Stroke({ color: token('--surface'), width: 3 }),
        }),
      }),
    )
    this.source.addFeatures([line, around, dot])
    const view = this.map.getView()
    view.setCenter(at)
    if ((view.getZoom() ?? 0) < 17) view.setZoom(17)
  }
}

const freshStyle = () =>
  new Style({
    zIndex: 8,
    image: new Circle({
      radius: 4.5,
      fill: new Fill({ color: token('--surface') }),
      stroke: new Stroke({ color: token('--tarn'), width: 1.8 }),
    }),
  })
