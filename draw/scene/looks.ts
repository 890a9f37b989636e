import { MeshStandardMaterial, type Texture } from 'three';
import type { Look, PicturePlace } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import { BOX_FACES } from '../../core/shape';
import type { Assets } from './assets';

/** Below this alpha a point of a picture is not drawn at all, so that it hides nothing. */
const CLEAR = 0.01;

function dress(
  material: MeshStandardMaterial,
  id: string,
  look: Look,
  place: PicturePlace,
  evaluator: Evaluator,
  assets: Assets,
  opacity: number,
): void {
  const picture = look.pictures?.[place] ?? look.pictures?.all;
  const map: Texture | null = picture ? assets.picture(picture.asset) : null;
  material.color.setRGB(...evaluator.colour(`${id}/colour`));
  material.emissive.copy(material.color);
  material.emissiveIntensity = evaluator.number(`${id}/glow`);
  material.metalness = evaluator.number(`${id}/metallic`);
  material.roughness = evaluator.number(`${id}/roughness`);
  material.opacity = opacity;
  const transparent = opacity < 1 || (picture?.alpha ?? false);
  const alphaTest = picture?.alpha ? CLEAR : 0;
  if (
    material.map !== map ||
    material.transparent !== transparent ||
    material.alphaTest > 0 !== alphaTest > 0
  ) {
    material.map = map;
    material.emissiveMap = map;
    material.transparent = transparent;
    material.alphaTest = alphaTest;
    material.needsUpdate = true;
  }
}

/** The material of a look, or six of them where faces of a box have pictures of their own. */
export class LookMaterial {
  private single = new MeshStandardMaterial();
  private faces: MeshStandardMaterial[] | null = null;

  /** For a mesh: one material, or one for each face of a box. */
  get(box: boolean): MeshStandardMaterial | MeshStandardMaterial[] {
    return box && this.faces ? this.faces : this.single;
  }

  /** The material that says how the whole looks. */
  get plain(): MeshStandardMaterial {
    return this.single;
  }

  /** Brings it to the evaluated frame. */
  refresh(id: string, look: Look, evaluator: Evaluator, assets: Assets, opacity: number): void {
    dress(this.single, id, look, 'all', evaluator, assets, opacity);
    const own = Object.keys(look.pictures ?? {}).some((place) => place !== 'all');
    if (!own) {
      this.faces?.forEach((face) => face.dispose());
      this.faces = null;
      return;
    }
    this.faces ??= BOX_FACES.map(() => new MeshStandardMaterial());
    BOX_FACES.forEach(({ place }, i) => dress(this.faces![i]!, id, look, place, evaluator, assets, opacity));
  }

  dispose(): void {
    this.single.dispose();
    this.faces?.forEach((face) => face.dispose());
  }
}
