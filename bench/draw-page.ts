import {
  BoxGeometry,
  CylinderGeometry,
  DirectionalLight,
  HemisphereLight,
  Mesh,
  MeshStandardMaterial,
  PerspectiveCamera,
  Scene,
  type WebGLRenderer,
} from 'three';
import { parseShot, type Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { Assets, createRenderer, Film, Picture } from '../draw';

/** What `bench/draw.ts` measures, in the page: our drawing beside a scene of the same parts written by hand. */

const WARM_UP = 4;

const pixel = new Uint8Array(4);
/** Waits until everything that was asked for is drawn. */
function settle(renderer: WebGLRenderer): void {
  const gl = renderer.getContext();
  gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
}

function median(times: readonly number[]): number {
  return [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

function ours(shot: Shot, width: number, height: number) {
  const plan = compile(shot);
  const renderer = createRenderer(document.createElement('canvas'), { alpha: true, preserve: true });
  renderer.setSize(width, height, false);
  const picture = new Picture(new Assets(() => Promise.reject(new Error('no files'))));
  picture.setPlan(plan);
  return {
    renderer,
    picture,
    film: new Film(renderer),
    evaluator: new Evaluator(plan),
    aspect: width / height,
  };
}

function parsed(document: unknown): Shot {
  const result = parseShot(document);
  if (!result.ok) throw new Error(result.problems[0]!.message);
  return result.shot;
}

/** The same boxes and cylinders as `drawShot` has, as anybody would write them with the drawing library alone. */
function byHand(shot: Shot, width: number, height: number) {
  const renderer = createRenderer(document.createElement('canvas'), { alpha: true, preserve: true });
  renderer.setSize(width, height, false);
  const scene = new Scene();
  const box = new BoxGeometry(0.3, 0.3, 0.3);
  const cylinder = new CylinderGeometry(0.15, 0.15, 0.3, 16);
  const materials = Object.values(shot.looks).map(
    (look) => new MeshStandardMaterial({ roughness: look.values.roughness as number }),
  );
  const solids = Object.values(shot.parts).filter((part) => part.kind === 'solid');
  const meshes = solids.map((part, i) => {
    const mesh = new Mesh(i % 2 === 0 ? box : cylinder, materials[i % materials.length]);
    mesh.castShadow = true;
    mesh.receiveShadow = true;
    mesh.position.set(part.values['location.x'] as number, part.values['location.y'] as number, 0);
    scene.add(mesh);
    return mesh;
  });
  const sun = new DirectionalLight('#fff', 3);
  sun.position.set(4, 8, 6);
  sun.castShadow = true;
  sun.shadow.mapSize.set(2048, 2048);
  sun.shadow.camera.left = sun.shadow.camera.bottom = -12;
  sun.shadow.camera.right = sun.shadow.camera.top = 12;
  scene.add(sun, new HemisphereLight('#fff', '#888', 1));
  const camera = new PerspectiveCamera(40, width / height, 0.05, 2000);
  camera.position.z = 16;
  return { renderer, scene, camera, meshes };
}

/** Update and submit of many moving parts: milliseconds of the page's thread, ours and by hand, in turn. */
function submit(document: unknown, rounds: number): { ours: number; byHand: number } {
  const shot = parsed(document);
  const a = ours(shot, 640, 360);
  const b = byHand(shot, 640, 360);
  const times = { ours: [] as number[], byHand: [] as number[] };
  for (let i = 0; i < rounds + WARM_UP; i++) {
    a.evaluator.evaluate(1 + (i % 90));
    const begun = performance.now();
    a.film.draw(a.picture, { evaluator: a.evaluator, aspect: a.aspect });
    const own = performance.now() - begun;
    settle(a.renderer);
    const again = performance.now();
    for (const mesh of b.meshes) mesh.rotation.z = (i % 90) * 0.05;
    b.renderer.clear();
    b.renderer.render(b.scene, b.camera);
    const hand = performance.now() - again;
    settle(b.renderer);
    if (i < WARM_UP) continue;
    times.ours.push(own);
    times.byHand.push(hand);
  }
  return { ours: median(times.ours), byHand: median(times.byHand) };
}

/** A whole frame until it is drawn, and drawing its scene once more as it is. */
function frame(document: unknown, rounds: number): { whole: number; bare: number } {
  const { renderer, picture, film, evaluator, aspect } = ours(parsed(document), 1280, 800);
  const times = { whole: [] as number[], bare: [] as number[] };
  for (let i = 0; i < rounds + 2; i++) {
    const begun = performance.now();
    evaluator.evaluate(1 + i * 7);
    film.draw(picture, { evaluator, aspect });
    settle(renderer);
    const whole = performance.now() - begun;
    const camera = picture.shotCamera(evaluator, { aspect })!;
    const again = performance.now();
    renderer.clear();
    renderer.render(picture.scene, camera);
    settle(renderer);
    const bare = performance.now() - again;
    if (i < 2) continue;
    times.whole.push(whole);
    times.bare.push(bare);
  }
  return { whole: median(times.whole), bare: median(times.bare) };
}

Object.assign(globalThis, { whirlBench: { submit, frame } });
