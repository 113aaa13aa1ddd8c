import ImageLayer from 'ol/layer/Image'
import TileLayer from 'ol/layer/Tile'
import VectorLayer from 'ol/layer/Vector'
import Feature from 'ol/Feature'
import { LineString } from 'ol/geom'
import { fromLonLat } from 'ol/proj'
import ImageCanvas from 'ol/source/ImageCanvas'
import VectorSource from 'ol/source/Vector'
import XYZ from 'ol/source/XYZ'
import { Fill, Stroke, Style, Text } from 'ol/style'
import type { Schemas } from '../api/client'
import { withUnit, type System } from '../ui/units'
import { font, token } from './styles'

// What lies under the paddocks: contours, the farm's own picture, and tiles where the farm gave an address.

type Layer = ImageLayer<ImageCanvas> | TileLayer | VectorLayer

export function groundLayers(farm: string, ground: Schemas['GroundView'], system: System): Layer[] {
  const out: Layer[] = []
  if (ground.tile_address)
    out.push(new TileLayer({ source: new XYZ({ url: `/api/farms/${farm}/land/tiles/{z}/{x}/{y}`, maxZoom: 21 }) }))
  for (const p of ground.pictures) out.push(picture(`/api/farms/${farm}/land/pictures/${p.id}`, p.corners))
  for (const h of ground.heights) out.push(contours(h, system))
  return out
}

/** A picture laid by its top left, top right and bottom left corners, however it is turned. */
function picture(src: string, corners: number[][]): ImageLayer<ImageCanvas> {
  const [a, b, c] = corners.map((p) => fromLonLat(p)) as [number[], number[], number[]]
  const img = new Image()
  const source = new ImageCanvas({
    ratio: 1.2,
    canvasFunction: (extent, resolution, pixelRatio, size) => {
      const canvas = document.createElement('canvas')
      canvas.width = Math.round(size[0]!)
      canvas.height = Math.round(size[1]!)
      const pen = canvas.getContext('2d')
      if (!pen || !img.complete || !img.naturalWidth) return canvas
      const k = pixelRatio / resolution
      const at = (p: number[]) => [(p[0]! - extent[0]!) * k, (extent[3]! - p[1]!) * k] as const
      const [ax, ay] = at(a)
      const [bx, by] = at(b)
      const [cx, cy] = at(c)
      const [w, h] = [img.naturalWidth, img.naturalHeight]
      pen.setTransform((bx - ax) / w, (by - ay) / w, (cx - ax) / h, (cy - ay) / h, ax, ay)
      pen.drawImage(img, 0, 0)
      return canvas
    },
  })
  img.onload = () => source.changed()
  img.src = src
  return new ImageLayer({ source })
}

function contours(h: Schemas['HeightsView'], system: System): VectorLayer {
  const source = new VectorSource()
  for (const c of h.contours) {
    const f = new Feature({ geometry: new LineString(c.line.map((p) => fromLonLat(p))) })
    f.set('height', c.height_m)
    source.addFeature(f)
  }
  const every = h.step_m * 5
  return new VectorLayer({
    source,
    declutter: true,
    style: (f) => {
      const height = f.get('height') as number
      const main = Math.abs(height / every - Math.round(height / every)) < 1e-6
      return new Style({
        stroke: new Stroke({ color: token('--contour'), width: main ? 1.8 : 1 }),
        text: main
          ? new Text({
              text: withUnit(height, 'm', system, 0),
              font: font(11, false),
              placement: 'line',
              fill: new Fill({ color: token('--soft') }),
              stroke: new Stroke({ color: token('--paper'), width: 3 }),
            })
          : undefined,
      })
    },
  })
}
