import { Color, Matrix3, Matrix4, Mesh, PlaneGeometry, ShaderMaterial, Vector2, type Texture } from 'three';
import type { Evaluator } from '../../core/evaluate';
import type { LookMaterial } from './looks';

/** How far behind its layer the shadow lies, metres: far enough not to fight with it for the same depth. */
const BEHIND = 0.001;
/** A blur reaches so many of its standard deviations. */
const REACH = 2.5;
const DEGREE = Math.PI / 180;
const UNIT = new PlaneGeometry(1, 1);
const PLACE = new Matrix4();
const SIZE = new Matrix4();

/** The blurred shadow that a flat layer throws on what lies right behind it, by the see-through of its picture. */
export class DropShadow {
  readonly mesh: Mesh<PlaneGeometry, ShaderMaterial>;

  constructor() {
    const material = new ShaderMaterial({
      uniforms: {
        map: { value: null as Texture | null },
        mapPlace: { value: new Matrix3() },
        pictured: { value: 0 },
        size: { value: new Vector2(1, 1) },
        whole: { value: new Vector2(1, 1) },
        blur: { value: 0 },
        colour: { value: new Color() },
        opacity: { value: 1 },
      },
      vertexShader: `varying vec2 at; uniform vec2 whole;
        void main() { at = position.xy * whole; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`,
      fragmentShader: `varying vec2 at;
        uniform sampler2D map; uniform mat3 mapPlace; uniform float pictured, blur, opacity; uniform vec2 size; uniform vec3 colour;
        float coverAt(vec2 p, float soft) {
          vec2 rim = clamp((0.5 * size - abs(p)) / soft + 0.5, 0.0, 1.0);
          float cover = rim.x * rim.y;
          if (pictured > 0.5 && cover > 0.0) cover *= texture2D(map, (mapPlace * vec3(p / size + 0.5, 1.0)).xy).a;
          return cover;
        }
        void main() {
          float pixel = max(length(fwidth(at)), 1e-6);
          float cover = 0.0;
          if (blur < pixel) cover = coverAt(at, pixel);
          else {
            // A Gaussian, in steps of half its standard deviation.
            float sum = 0.0;
            for (int i = -5; i <= 5; i++) for (int j = -5; j <= 5; j++) {
              vec2 off = vec2(float(i), float(j)) * 0.5;
              float weight = exp(-0.5 * dot(off, off));
              cover += weight * coverAt(at - off * blur, max(pixel, 0.5 * blur));
              sum += weight;
            }
            cover /= sum;
          }
          if (cover * opacity < 0.002) discard;
          gl_FragColor = vec4(colour, cover * opacity);
          #include <tonemapping_fragment>
          #include <colorspace_fragment>
        }`,
      transparent: true,
      depthWrite: false,
    });
    this.mesh = new Mesh(UNIT, material);
    this.mesh.frustumCulled = false;
    this.mesh.matrixAutoUpdate = false;
    this.mesh.matrixWorldAutoUpdate = false;
    // Whoever clicks on it means what lies behind.
    this.mesh.raycast = () => undefined;
  }

  /**
   * Brings it to the evaluated frame; its world matrix is that of the part.
   * @param ids of the part's shape and look
   */
  refresh(
    ids: { readonly shape: string; readonly look: string },
    evaluator: Evaluator,
    dressed: LookMaterial,
  ): void {
    const { mesh } = this;
    const of = (path: string): number => evaluator.number(`${ids.look}/drop.${path}`);
    const strength = of('opacity') * dressed.plain.opacity;
    mesh.visible = strength > 0;
    if (!mesh.visible) return;
    const { uniforms } = mesh.material;
    const [width, height] = [evaluator.number(`${ids.shape}/width`), evaluator.number(`${ids.shape}/height`)];
    const blur = of('blur') / 2;
    const [whole, tall] = [width + 2 * REACH * blur, height + 2 * REACH * blur];
    const { map } = dressed.plain;
    uniforms.map!.value = map;
    if (map) (uniforms.mapPlace!.value as Matrix3).copy(map.matrix);
    uniforms.pictured!.value = map ? 1 : 0;
    (uniforms.size!.value as Vector2).set(width, height);
    (uniforms.whole!.value as Vector2).set(whole, tall);
    uniforms.blur!.value = blur;
    (uniforms.colour!.value as Color).setRGB(...evaluator.colour(`${ids.look}/drop.colour`));
    uniforms.opacity!.value = strength;
    const [away, angle] = [of('distance'), of('angle') * DEGREE];
    mesh.matrixWorld
      .multiply(PLACE.makeTranslation(away * Math.cos(angle), away * Math.sin(angle), -BEHIND))
      .multiply(SIZE.makeScale(whole, tall, 1));
  }

  dispose(): void {
    this.mesh.material.dispose();
  }
}
