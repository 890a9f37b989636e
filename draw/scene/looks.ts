import {
  Color,
  DoubleSide,
  FrontSide,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  ShadowMaterial,
  type Material,
  type Texture,
} from 'three';
import {
  programPaths,
  type Look,
  type Picture,
  type PictureMap,
  type PicturePlace,
} from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import { BOX_FACES } from '../../core/shape';
import type { Assets } from './assets';
import { makePatternUniforms, patternProgram, refreshPattern, type PatternUniforms } from './patterns';
import { Placed } from './placed-pictures';

/** Below this alpha a point of a picture is not drawn at all, so that it hides nothing. */
const CLEAR = 0.01;

/** What a look is drawn with: a plain surface, one with coats, sheen or glass, or shadows alone. */
type Manner = 'plain' | 'fine' | 'shadow';

function mannerOf(look: Look): Manner {
  if (look.shadow === 'only') return 'shadow';
  return programPaths(look).length > 0 ? 'fine' : 'plain';
}

/** Which program a look asks for, beside what its pictures ask: another one is another material. */
function makeup(look: Look): string {
  const { pattern } = look;
  return `${mannerOf(look)} ${pattern ? `${pattern.kind} ${pattern.lies}` : ''}`;
}

/** The material of a look, or six of them where faces of a box have pictures of their own. */
export class LookMaterial {
  private made = '';
  private single: MeshStandardMaterial = new MeshStandardMaterial();
  private shadow: ShadowMaterial | null = null;
  private faces: MeshStandardMaterial[] | null = null;
  private pattern: PatternUniforms | null = null;
  private readonly placed = new Placed();
  private assets: Assets | null = null;
  /** Throws and takes shadows. */
  throws = true;
  takes = true;

  /** For a mesh: one material, or one for each face of a box. */
  get(box: boolean): Material | Material[] {
    return this.shadow ?? (box && this.faces ? this.faces : this.single);
  }

  /** The material that says how the whole looks. */
  get plain(): MeshStandardMaterial {
    return this.single;
  }

  /** Whether light goes through it and is bent. */
  get glass(): boolean {
    return this.single instanceof MeshPhysicalMaterial && this.single.transmission > 0;
  }

  /** Whether copies are drawn with it as it is, whatever their own looks are. */
  get onlyShadow(): boolean {
    return this.shadow !== null;
  }

  /** Brings it to the evaluated frame. */
  refresh(id: string, look: Look, evaluator: Evaluator, assets: Assets, opacity: number): void {
    const wanted = makeup(look);
    if (wanted !== this.made) this.remake(look, wanted);
    const shadow = look.shadow ?? 'both';
    this.throws = shadow === 'both' || shadow === 'thrown';
    this.takes = shadow !== 'thrown' && shadow !== 'none';
    if (this.shadow) {
      this.shadow.opacity = opacity;
      this.shadow.side = look.twoSided ? DoubleSide : FrontSide;
      return;
    }
    this.placed.refresh(id, evaluator);
    if (this.pattern && look.pattern) refreshPattern(this.pattern, id, look.pattern, evaluator);
    const dress = (material: MeshStandardMaterial, place: PicturePlace): void =>
      this.dress(material, id, look, place, evaluator, assets, opacity);
    dress(this.single, 'all');
    const own = Object.keys(look.pictures ?? {}).some((place) => place !== 'all');
    if (!own) {
      this.faces?.forEach((face) => face.dispose());
      this.faces = null;
      return;
    }
    this.faces ??= BOX_FACES.map(() => this.make(look));
    BOX_FACES.forEach(({ place }, i) => dress(this.faces![i]!, place));
  }

  /** A material for a copy whose look differs: it is coloured by whoever has it. */
  copy(look: Look): MeshStandardMaterial {
    return this.make(look).copy(this.single);
  }

  private remake(look: Look, wanted: string): void {
    this.dispose();
    this.made = wanted;
    this.faces = null;
    this.pattern = look.pattern ? makePatternUniforms() : null;
    this.shadow = mannerOf(look) === 'shadow' ? new ShadowMaterial() : null;
    this.single = this.make(look);
  }

  private make(look: Look): MeshStandardMaterial {
    const material = mannerOf(look) === 'fine' ? new MeshPhysicalMaterial() : new MeshStandardMaterial();
    const { pattern } = this;
    const asked = look.pattern;
    if (pattern && asked) {
      material.onBeforeCompile = (shader) => patternProgram(shader, asked, pattern);
      material.customProgramCacheKey = () => `${asked.kind} ${asked.lies}`;
    }
    return material;
  }

  private dress(
    material: MeshStandardMaterial,
    id: string,
    look: Look,
    place: PicturePlace,
    evaluator: Evaluator,
    assets: Assets,
    opacity: number,
  ): void {
    const number = (path: string): number => evaluator.number(`${id}/${path}`);
    const { maps } = look;
    const picture = look.pictures?.[place] ?? look.pictures?.all;
    this.assets = assets;
    const shown = (entry: Picture | undefined, at: string): Texture | null =>
      entry ? assets.pictureAt(entry, [this, at], evaluator, entry.video ? number('video.shift') : 0) : null;
    const map = this.placed.of(shown(picture, look.pictures?.[place] ? place : 'all'), 'colour');
    const data = (what: PictureMap): Texture | null => this.placed.of(shown(maps?.[what], what), 'data');
    material.color.setRGB(...evaluator.colour(`${id}/colour`));
    material.emissive.copy(material.color).multiply(TINT.setRGB(...evaluator.colour(`${id}/glowcolour`)));
    material.emissiveIntensity = number('glow');
    material.metalness = number('metallic');
    material.roughness = number('roughness');
    material.opacity = opacity * (1 - number('transparency'));
    if (material instanceof MeshPhysicalMaterial) {
      material.clearcoat = number('coat');
      material.clearcoatRoughness = number('coatroughness');
      material.sheen = number('sheen');
      material.sheenColor.setRGB(...evaluator.colour(`${id}/sheencolour`));
      material.sheenRoughness = 0.5;
      material.transmission = number('glass');
      material.ior = number('bending');
      material.thickness = number('thickness');
    }
    const wanted = {
      map,
      emissiveMap: this.placed.of(shown(maps?.glow, 'glow'), 'colour') ?? map,
      roughnessMap: data('roughness'),
      metalnessMap: data('metallic'),
      normalMap: data('normal'),
      alphaMap: data('opacity'),
      transparent: material.opacity < 1 || (picture?.alpha ?? false) || maps?.opacity !== undefined,
      alphaTest: picture?.alpha || maps?.opacity ? CLEAR : 0,
      side: look.twoSided ? DoubleSide : FrontSide,
    } as const;
    let other = false;
    for (const key of Object.keys(wanted) as (keyof typeof wanted)[]) other ||= material[key] !== wanted[key];
    if (!other) return;
    Object.assign(material, wanted);
    material.needsUpdate = true;
  }

  dispose(): void {
    this.single.dispose();
    this.shadow?.dispose();
    this.faces?.forEach((face) => face.dispose());
    this.placed.dispose();
    this.assets?.leave(this);
  }
}

const TINT = new Color();
