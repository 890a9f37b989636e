import {
  Color,
  LinearFilter,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector4,
  WebGLRenderTarget,
  type Camera,
  type WebGLRenderer,
} from 'three';

/** Width of the line in pixels of the screen. */
const WIDTH_PX = 2;

/**
 * Draws a line round meshes as they are seen, also where something stands before them or where they cannot be seen
 * themselves: their shapes are drawn flat into a mask, and a pixel beside the mask belongs to the line.
 */
export class Outline {
  private readonly target = new WebGLRenderTarget(1, 1, { minFilter: LinearFilter, magFilter: LinearFilter });
  private readonly flat = new MeshBasicMaterial({ color: '#ffffff', toneMapped: false });
  private readonly masked = new Scene();
  private readonly pool: Mesh[] = [];
  private readonly whole = new Scene();
  private readonly straight = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly line: ShaderMaterial;

  /** @param colour as it is to be on the screen, `#rrggbb` */
  constructor(colour: string) {
    const rgb = new Color().setStyle(colour);
    rgb.convertLinearToSRGB();
    this.line = new ShaderMaterial({
      uniforms: {
        mask: { value: this.target.texture },
        pixel: { value: new Vector2() },
        colour: { value: rgb },
      },
      vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }',
      fragmentShader: `
        uniform sampler2D mask;
        uniform vec2 pixel;
        uniform vec3 colour;
        varying vec2 at;
        void main() {
          float here = texture2D(mask, at).r;
          float round = 0.0;
          for (int i = 0; i < 8; i++) {
            float angle = float(i) * 0.7853981634;
            round = max(round, texture2D(mask, at + pixel * vec2(cos(angle), sin(angle))).r);
          }
          float line = round * (1.0 - here);
          if (line < 0.05) discard;
          gl_FragColor = vec4(colour, line);
        }`,
      transparent: true,
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
    });
    this.whole.add(new Mesh(new PlaneGeometry(2, 2), this.line));
    this.masked.matrixWorldAutoUpdate = false;
  }

  /**
   * Draws the line over what the renderer has drawn, into its viewport.
   * @param meshes with world matrices that are up to date
   */
  draw(renderer: WebGLRenderer, meshes: readonly Mesh[], camera: Camera): void {
    if (meshes.length === 0) return;
    const viewport = renderer.getViewport(new Vector4());
    const ratio = renderer.getPixelRatio();
    const [width, height] = [Math.round(viewport.z * ratio), Math.round(viewport.w * ratio)];
    if (width < 1 || height < 1) return;
    if (this.target.width !== width || this.target.height !== height) this.target.setSize(width, height);
    while (this.pool.length < meshes.length) {
      const mesh = new Mesh(undefined, this.flat);
      mesh.matrixAutoUpdate = false;
      mesh.frustumCulled = false;
      this.pool.push(mesh);
      this.masked.add(mesh);
    }
    this.pool.forEach((mesh, i) => {
      const shown = meshes[i];
      mesh.visible = shown !== undefined;
      if (!shown) return;
      mesh.geometry = shown.geometry;
      mesh.matrixWorld.copy(shown.matrixWorld);
    });
    renderer.setRenderTarget(this.target);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    renderer.render(this.masked, camera);
    renderer.setRenderTarget(null);
    const reach = WIDTH_PX * Math.max(1, ratio);
    (this.line.uniforms.pixel!.value as Vector2).set(reach / width, reach / height);
    renderer.render(this.whole, this.straight);
  }

  dispose(): void {
    this.target.dispose();
    this.flat.dispose();
    this.line.dispose();
  }
}
