import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Color,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PerspectiveCamera,
  Scene,
  Spherical,
  Sprite,
  SpriteMaterial,
  Vector3,
  WebGLRenderer,
  WireframeGeometry,
} from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import type { GamutSurface } from '@bichroma/core/gamut'
import { toneCurve } from '@bichroma/core/tone'

/** One thing to draw: a surface as a body or a net, or loose triangles that lie outside. */
export type Volume =
  | { readonly surface: GamutSurface; readonly look: 'body' | 'net' | 'faint' }
  | { readonly triangles: Float64Array; readonly look: 'outside' }

/** Screen codes to the light that the library mixes with. */
const { decode: toLight } = toneCurve({ kind: 'sRGB' })

/** CIELAB units to those of the scene, and the middle of the lightness axis at the origin. */
const scale = 1 / 100
const middle = 50
/** One press of an arrow, radians; one of plus or minus, as a share of the distance. */
const turn = 0.12
const step = 0.9

/** L* upwards, a* to the right, b* away. */
function place(corners: Float64Array): Float32Array {
  const placed = new Float32Array(corners.length)
  for (let i = 0; i < corners.length; i += 3) {
    placed[i] = corners[i + 1] * scale
    placed[i + 1] = (corners[i] - middle) * scale
    placed[i + 2] = -corners[i + 2] * scale
  }
  return placed
}

const geometryOf = (corners: Float64Array) =>
  new BufferGeometry().setAttribute('position', new BufferAttribute(place(corners), 3))

/** Gamuts in three dimensions on a canvas that fills its host. Throws when the browser has no WebGL. */
export class GamutScene {
  private readonly renderer: WebGLRenderer
  private readonly scene = new Scene()
  private readonly camera = new PerspectiveCamera(38, 1, 0.1, 50)
  private readonly controls: OrbitControls
  private readonly content = new Group()
  private readonly watch: ResizeObserver

  constructor(private readonly host: HTMLElement) {
    this.renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio))
    host.append(this.renderer.domElement)
    this.camera.position.set(2.1, 1.3, 3)
    this.controls = new OrbitControls(this.camera, this.renderer.domElement)
    this.controls.enablePan = false
    this.controls.addEventListener('change', () => this.draw())
    this.scene.add(this.content, this.axes(), ...this.axisNames())
    this.watch = new ResizeObserver(() => this.fit())
    this.watch.observe(host)
    this.fit()
  }

  private color(name: string) {
    return new Color(getComputedStyle(this.host).getPropertyValue(name).trim() || '#888888')
  }

  private axes() {
    const reach = 0.95
    const points = [
      ...[-reach, 0, 0, reach, 0, 0],
      ...[0, 0, -reach, 0, 0, reach],
      ...[0, -middle * scale, 0, 0, middle * scale, 0],
    ]
    const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(points), 3))
    return new LineSegments(geometry, new LineBasicMaterial({ color: this.color('--text-3') }))
  }

  /** The names of the axes at their ends. */
  private axisNames() {
    const ends: readonly [string, number, number, number][] = [
      ['+a*', 1.03, 0, 0],
      ['−a*', -1.03, 0, 0],
      ['+b*', 0, 0, -1.03],
      ['−b*', 0, 0, 1.03],
      ['L* 100', 0, 0.62, 0],
      ['L* 0', 0, -0.6, 0],
    ]
    return ends.map(([name, x, y, z]) => {
      const canvas = document.createElement('canvas')
      Object.assign(canvas, { width: 160, height: 48 })
      const context = canvas.getContext('2d')!
      context.font = '30px "Spline Sans Variable", sans-serif'
      context.textAlign = 'center'
      context.fillStyle = `#${this.color('--text-2').getHexString()}`
      context.fillText(name, 80, 34)
      const sprite = new Sprite(new SpriteMaterial({ map: new CanvasTexture(canvas), depthTest: false }))
      sprite.position.set(x, y, z)
      sprite.scale.set(0.4, 0.12, 1)
      return sprite
    })
  }

  /** Draws these volumes in place of those before. */
  show(volumes: readonly Volume[]): void {
    this.clear()
    for (const volume of volumes) this.content.add(this.bodyOf(volume))
    this.draw()
  }

  private bodyOf(volume: Volume) {
    if (volume.look === 'outside')
      return new Mesh(
        geometryOf(volume.triangles),
        new MeshBasicMaterial({ color: this.color('--ochre'), side: DoubleSide, transparent: true, opacity: 0.75 }),
      )
    const { corners, colors } = volume.surface
    const geometry = geometryOf(corners)
    if (volume.look === 'body') {
      geometry.setAttribute('color', new BufferAttribute(Float32Array.from(colors, toLight), 3))
      return new Mesh(geometry, new MeshBasicMaterial({ vertexColors: true, side: DoubleSide }))
    }
    const faint = volume.look === 'faint'
    const net = new LineSegments(
      new WireframeGeometry(geometry),
      new LineBasicMaterial({
        color: this.color(faint ? '--text-3' : '--lake'),
        transparent: true,
        opacity: faint ? 0.18 : 0.4,
      }),
    )
    geometry.dispose()
    return net
  }

  private clear() {
    for (const child of [...this.content.children]) {
      const { geometry, material } = child as Mesh
      geometry.dispose()
      for (const m of Array.isArray(material) ? material : [material]) m.dispose()
      this.content.remove(child)
    }
  }

  /** Turns or comes nearer by a key; says whether the key meant anything. */
  key(name: string): boolean {
    const turns: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-turn, 0],
      ArrowRight: [turn, 0],
      ArrowUp: [0, -turn],
      ArrowDown: [0, turn],
    }
    const around = new Spherical().setFromVector3(this.camera.position)
    if (turns[name]) {
      around.theta += turns[name][0]
      around.phi = Math.min(Math.PI - 0.05, Math.max(0.05, around.phi + turns[name][1]))
    } else if (name === '+' || name === '=') around.radius *= step
    else if (name === '-') around.radius /= step
    else return false
    this.camera.position.setFromSpherical(around)
    this.camera.lookAt(new Vector3())
    this.draw()
    return true
  }

  private fit() {
    const { clientWidth: width, clientHeight: height } = this.host
    if (!width || !height) return
    this.renderer.setSize(width, height)
    this.camera.aspect = width / height
    this.camera.updateProjectionMatrix()
    this.draw()
  }

  private draw() {
    this.renderer.render(this.scene, this.camera)
  }

  dispose(): void {
    this.watch.disconnect()
    this.controls.dispose()
    this.clear()
    this.renderer.dispose()
    this.renderer.domElement.remove()
  }
}
