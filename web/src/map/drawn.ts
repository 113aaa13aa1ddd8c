import OlMap from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import { getCenter, type Extent } from 'ol/extent'
import Feature, { type FeatureLike } from 'ol/Feature'
import { LineString, MultiPolygon, Point } from 'ol/geom'
import { defaults, Translate } from 'ol/interaction'
import Collection from 'ol/Collection'
import Graticule from 'ol/layer/Graticule'
import LayerGroup from 'ol/layer/Group'
import VectorLayer from 'ol/layer/Vector'
import VectorImageLayer from 'ol/layer/VectorImage'
import { fromLonLat, toLonLat } from 'ol/proj'
import VectorSource from 'ol/source/Vector'
import { Circle, Fill, Icon, Stroke, Style } from 'ol/style'
import type { Schemas } from '../api/client'
import { svgPoints } from '../ui/glyph'
import { withUnit, type System } from '../ui/units'
import { groundLayers } from './ground'
import {
  divisionStyle,
  exclusionStyle,
  markStyle,
  paddockStyle,
  scales,
  token,
  zoneStyle,
  type ColourBy,
  type Look,
} from './styles'
import { Tools } from './tools'

export type Ring = [number, number][]
export type GroundShape = Ring[][]

export interface Picture {
  farm: string
  land: Schemas['LandView']
  ground: Schemas['GroundView'] | null
  mobs: Schemas['MobView'][]
  routes: { mob: string; from: string; to: string }[]
  selected: string[]
  by: ColourBy
  system: System
}

function area(shape: number[][][][]): MultiPolygon {
  return new MultiPolygon(shape.map((poly) => poly.map((ring) => ring.map((p) => fromLonLat(p)))))
}

/** The farm on a canvas: paddocks by feed, mobs, a division being looked at, and the drawing tools. */
export class FarmCanvas {
  readonly map: OlMap
  readonly tools: Tools
  private readonly beneath = new LayerGroup()
  private readonly fills: VectorImageLayer
  private readonly layers: Record<'paddocks' | 'things' | 'marks' | 'division', VectorSource>
  private picture: Picture | null = null
  private look: Look
  private division: Schemas['DivisionView'] | null = null
  private handle: Feature<Point> | null = null
  private turning: Translate | null = null
  private turningField = ''
  private held = false
  private fitted = ''
  private groundShown: unknown = null

  constructor(
    target: HTMLElement,
    private readonly still: boolean,
    onpick: (paddock: string, field: string, more: boolean) => void,
    private readonly onturn: (direction: number) => void,
  ) {
    const sources = {
      paddocks: new VectorSource(),
      things: new VectorSource(),
      marks: new VectorSource(),
      division: new VectorSource(),
    }
    this.layers = sources
    this.look = { system: 'metric', by: 'feed', still, selected: new Set(), quiet: false }
    const layer = (source: VectorSource, style: (f: FeatureLike, resolution: number) => Style[], declutter = false) =>
      new VectorLayer({ source, style, declutter })
    // The ground is drawn once onto a picture wider than the window, so that it follows the hand, and a division that
    // turns over it draws nothing else anew; labels have a picture of their own, in which they keep clear of one another.
    this.fills = new VectorImageLayer({
      source: sources.paddocks,
      style: (f, r) => this.groundStyle(f, r).filter((s) => !s.getText()),
      imageRatio: 2,
    })
    const pictured = (source: VectorSource, style: (f: FeatureLike, resolution: number) => Style[]) =>
      new VectorImageLayer({ source, style, declutter: true, imageRatio: 1.5 })
    this.map = new OlMap({
      target,
      controls: still ? [] : [new ScaleLine({ minWidth: 90 })],
      interactions: still ? [] : defaults({ altShiftDragRotate: false, pinchRotate: false, shiftDragZoom: false }),
      layers: [
        new Graticule({
          strokeStyle: new Stroke({ color: token('--paper-line'), width: 1 }),
          showLabels: false,
          wrapX: false,
          targetSize: 90,
        }),
        this.beneath,
        this.fills,
        layer(sources.division, (f, r) => divisionStyle(f, r), true),
        pictured(sources.things, (f) => (f.get('mark') ? markStyle(f) : zoneStyle(f))),
        pictured(sources.paddocks, (f, r) => this.groundStyle(f, r).filter((s) => s.getText())),
        layer(sources.marks, (f) => f.get('style') as Style[]),
      ],
      view: new View({ center: fromLonLat([9, 61]), zoom: 14, maxZoom: 21, minZoom: 3, enableRotation: false }),
    })
    this.tools = new Tools(this.map, sources.paddocks)
    if (!still) {
      this.map.on('singleclick', (e) => {
        if (this.tools.busy) return
        const hit = this.map.forEachFeatureAtPixel(e.pixel, (f) => (f.get('kind') === 'paddock' ? f : undefined))
        const more = (e.originalEvent as PointerEvent).shiftKey
        onpick((hit?.getId() as string) ?? '', (hit?.get('field') as string) ?? '', more)
      })
    }
  }

  dispose() {
    this.map.setTarget(undefined)
  }

  private groundStyle(f: FeatureLike, resolution: number): Style[] {
    if (f.get('kind') === 'exclusion') return exclusionStyle(f, this.look)
    const p = f.get('paddock') as Schemas['PaddockView']
    if (this.division && this.turningField === p.field_id)
      return [new Style({ stroke: new Stroke({ color: token('--tarn'), width: 3 }) })]
    return paddockStyle(f, resolution, this.look)
  }

  show(picture: Picture) {
    this.picture = picture
    const { land } = picture
    this.look = {
      system: picture.system,
      by: picture.by,
      still: this.still,
      selected: new Set(picture.selected),
      quiet: !!this.division,
    }
    for (const s of [this.layers.paddocks, this.layers.things, this.layers.marks]) s.clear(true)
    const features: Feature[] = []
    for (const p of land.paddocks) {
      const f = new Feature({ geometry: area(p.shape), kind: 'paddock', field: p.field_id, paddock: p })
      f.setId(p.id)
      features.push(f)
    }
    for (const field of land.fields) {
      for (const e of field.exclusions)
        features.push(new Feature({ geometry: area(e.shape), kind: 'exclusion', name: e.name, lane: e.kind === 'lane' }))
      if (!this.still)
        for (const z of field.zones)
          this.layers.things.addFeature(new Feature({ geometry: area(z.shape), name: z.name, factor: z.growth_factor }))
    }
    this.layers.paddocks.addFeatures(features)
    if (!this.still)
      for (const mark of land.marks) {
        const path = mark.path.map((p) => fromLonLat(p))
        this.layers.things.addFeature(
          new Feature({ geometry: path.length === 1 ? new Point(path[0]!) : new LineString(path), mark }),
        )
      }
    this.marks(picture)
    if (picture.ground && picture.ground !== this.groundShown) {
      this.groundShown = picture.ground
      // Over a picture or tiles the paddocks let through what they lie on.
      this.fills.setOpacity(picture.ground.pictures.length || picture.ground.tile_address ? 0.72 : 1)
      this.beneath.getLayers().clear()
      this.beneath.getLayers().extend(groundLayers(picture.farm, picture.ground, picture.system))
    }
    const key = land.fields.map((f) => f.id).join()
    if (key && key !== this.fitted) {
      this.fitted = key
      this.fit()
    }
    this.map.getControls().forEach((c) => {
      if (c instanceof ScaleLine) c.setUnits(picture.system === 'imperial' ? 'imperial' : 'metric')
    })
    this.tools.corners(land)
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
    const narrow = matchMedia('(max-width: 767px)').matches
    const pad = this.still ? 14 : narrow ? 24 : field ? 110 : 50
    const padding = this.still ? [pad, pad, pad, pad] : narrow ? [field ? 74 : 64, pad, 80, pad] : [pad, pad, pad + 20, pad + 60]
    this.map.getView().fit(extent, { padding, maxZoom: 19 })
  }

  /** The longitude and latitude in the middle of the map. */
  inView(): [number, number] {
    const [lon, lat] = toLonLat(this.map.getView().getCenter() ?? [0, 0])
    return [lon!, lat!]
  }

  /** A step nearer, or farther. */
  zoom(by: number) {
    const view = this.map.getView()
    view.animate({ zoom: (view.getZoom() ?? 14) + by, duration: 150 })
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
      const at = here.length ? this.middle(p.id) : null
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

  /** Shows a division over its field, with a handle that turns its fences. */
  preview(division: Schemas['DivisionView'] | null, field: string) {
    const changed = !!this.division !== !!division
    this.division = division
    this.look.quiet = !!division
    const fresh = this.turningField !== field
    this.turningField = division ? field : ''
    this.layers.division.clear(true)
    if (changed || fresh) this.layers.paddocks.changed()
    if (!division) {
      if (this.turning) this.map.removeInteraction(this.turning)
      this.turning = this.handle = null
      return
    }
    const system = this.picture?.system ?? 'metric'
    const features: Feature[] = division.parts.map((p, index) => {
      const days = p.days === null ? '' : withUnit(p.days, 'day', system, 1)
      const tone = scales.feed.tone({ mass: { forage_mass_kg_dm_ha: 1300 + p.feed_kg_dm / p.area_ha } } as never) ?? 2
      return new Feature({
        geometry: area(p.shape),
        kind: 'part',
        index,
        tone,
        lines: [withUnit(p.area_ha, 'ha', system), days],
        pieces: p.pieces,
      })
    })
    for (const c of division.cuts)
      features.push(new Feature({ geometry: new LineString(c.map((p) => fromLonLat(p))), kind: 'cut' }))
    for (const c of division.leave_standing) features.push(new Feature({ geometry: new Point(fromLonLat(c)), kind: 'post' }))
    this.layers.division.addFeatures(features)
    if (division.intent === 'lane') {
      if (this.turning) this.map.removeInteraction(this.turning)
      this.turning = this.handle = null
      return
    }
    this.placeHandle(division.direction_degrees, fresh)
  }

  private placeHandle(direction: number, fresh: boolean) {
    const extent = new VectorSource({
      features: this.layers.division.getFeatures().filter((f) => f.get('kind') === 'part'),
    }).getExtent()
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
    // Spokes and strips have a first one: their direction goes all the way around.
    const whole = this.division?.intent === 'water' || this.division?.intent === 'strips' ? 360 : 180
    if (!this.handle || fresh) {
      if (this.turning) this.map.removeInteraction(this.turning)
      const handle = new Feature<Point>({ geometry: new Point(at(direction)), kind: 'handle', centre, direction })
      this.handle = handle
      this.turning = new Translate({ features: new Collection([handle]), hitTolerance: 14 })
      this.turning.on('translatestart', () => (this.held = true))
      this.turning.on('translating', () => this.onturn(this.bearing()))
      this.turning.on('translateend', () => {
        this.held = false
        this.settle(this.bearing(), at, whole)
      })
      this.map.addInteraction(this.turning)
    }
    this.handle.set('direction', direction)
    this.layers.division.addFeature(this.handle)
    // An answer that comes late must not pull the handle out of the hand.
    if (this.held) return
    const before = this.handle.get('centre') as number[]
    if (Math.hypot(before[0]! - centre[0]!, before[1]! - centre[1]!) > radius / 20) {
      this.handle.set('centre', centre)
      this.settle(direction, at, whole)
    }
    // A handle on the far side is as good where fences have two ends.
    if (Math.abs(((this.bearing() - direction + 1.5 * whole) % whole) - whole / 2) > 0.6) this.settle(direction, at, whole)
  }

  private bearing(): number {
    const p = this.handle!.getGeometry()!.getCoordinates()
    const c = this.handle!.get('centre') as number[]
    return ((Math.atan2(p[0]! - c[0]!, p[1]! - c[1]!) * 180) / Math.PI + 360) % 360
  }

  private settle(direction: number, at: (deg: number) => number[], whole: number) {
    const p = this.handle?.getGeometry()?.getCoordinates()
    if (!p) return
    const [a, b] = [at(direction), at(whole === 180 ? direction + 180 : direction)]
    const near = Math.hypot(a[0]! - p[0]!, a[1]! - p[1]!) <= Math.hypot(b[0]! - p[0]!, b[1]! - p[1]!) ? a : b
    this.handle!.getGeometry()!.setCoordinates(near)
  }

  /** Shows drawn or brought-in things before they are kept. */
  sketch(shapes: { shape?: GroundShape; line?: Ring; point?: [number, number] | null }[] | null, fit = false) {
    this.layers.division.clear(true)
    if (!shapes) return
    for (const s of shapes) {
      const path = (s.line ?? []).map((p) => fromLonLat(p))
      if (s.shape?.length) this.layers.division.addFeature(new Feature({ geometry: area(s.shape), kind: 'cut' }))
      else if (path.length > 1) this.layers.division.addFeature(new Feature({ geometry: new LineString(path), kind: 'cut' }))
      else if (s.point) this.layers.division.addFeature(new Feature({ geometry: new Point(fromLonLat(s.point)), kind: 'post' }))
    }
    const extent = this.layers.division.getExtent()
    if (extent && Number.isFinite(extent[0]) && (fit || !this.picture?.land.fields.length))
      this.map.getView().fit(extent, { padding: [60, 60, 60, 120], maxZoom: 18 })
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
