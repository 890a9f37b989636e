import { Color, Vector2, type IUniform, type WebGLProgramParametersWithUniforms } from 'three';
import type { Look, PatternKind } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';

/** What the program of a patterned surface reads. */
export interface PatternUniforms extends Record<string, IUniform> {
  patternColour: IUniform<Color>;
  patternGlow: IUniform<Color>;
  /** Repeats for each metre, or over the whole surface. */
  patternEach: IUniform<number>;
  patternShare: IUniform<number>;
  patternSoft: IUniform<number>;
  patternStrength: IUniform<number>;
  patternShift: IUniform<Vector2>;
  patternTurn: IUniform<Vector2>;
}

export function makePatternUniforms(): PatternUniforms {
  return {
    patternColour: { value: new Color() },
    patternGlow: { value: new Color() },
    patternEach: { value: 1 },
    patternShare: { value: 0.5 },
    patternSoft: { value: 0 },
    patternStrength: { value: 1 },
    patternShift: { value: new Vector2() },
    patternTurn: { value: new Vector2(1, 0) },
  };
}

/** Brings a pattern to the evaluated frame. @param id of the look */
export function refreshPattern(
  uniforms: PatternUniforms,
  id: string,
  pattern: NonNullable<Look['pattern']>,
  evaluator: Evaluator,
): void {
  const number = (path: string): number => evaluator.number(`${id}/pattern.${path}`);
  uniforms.patternColour.value.setRGB(...evaluator.colour(`${id}/pattern.colour`));
  const tint = evaluator.colour(`${id}/glowcolour`);
  uniforms.patternGlow.value
    .setRGB(...tint)
    .multiply(uniforms.patternColour.value)
    .multiplyScalar(evaluator.number(`${id}/glow`));
  uniforms.patternEach.value = pattern.lies === 'surface' ? number('times') : 1 / number('size');
  uniforms.patternShare.value = number('share');
  uniforms.patternSoft.value = number('softness');
  uniforms.patternStrength.value = number('strength');
  uniforms.patternShift.value.set(number('shift.x'), number('shift.y'));
  const turn = (number('turn') * Math.PI) / 180;
  uniforms.patternTurn.value.set(Math.cos(turn), Math.sin(turn));
}

/** Cover of the second colour at a point, 0 to 1, and the height of the surface there, in repeats. */
const FIELDS: Record<PatternKind, string> = {
  stripes: 'cover = band(p.x);',
  // Through a body the third axis counts, so that no turn leaves it as it was.
  checks: `float a = band(p.x); float b = band(p.y);
    cover = a + b - 2.0 * a * b;
    #ifdef PATTERN_BODY
      float c = band(p.z); cover = cover + c - 2.0 * cover * c;
    #endif`,
  dots: `vec2 cell = fract(flat2) - 0.5;
    float off = length(cell) - 0.5 * patternShare;
    float wide = max(length(fwidth(flat2)) * 0.7, 0.25 * patternSoft);
    cover = patternShare <= 0.0 ? 0.0 : 1.0 - smoothstep(-wide, wide, off);`,
  gradient: 'cover = clamp(0.5 + (p.x - 0.5) / max(1e-3, 2.0 * patternShare), 0.0, 1.0);',
  wood: `vec3 q = vec3(p.x, p.y * 0.12, p.z);
    float ring = length(q.xz + vec2(0.31, 0.17)) + 0.35 * noise(q * 1.7) + 0.04 * noise(q * vec3(19.0, 3.0, 19.0));
    float year = fract(ring);
    float line = smoothstep(0.0, max(0.05, patternShare), year) * (1.0 - smoothstep(0.85, 1.0, year));
    cover = mix(line, 0.5, clamp(fwidth(ring) * 1.2, 0.0, 1.0)) * (0.8 + 0.2 * noise(q * vec3(41.0, 2.0, 41.0)));
    rough = 0.2 * (cover - 0.5);`,
  brushed: `vec3 q = vec3(p.x * 0.35, p.y * 24.0, p.z * 24.0);
    float streak = 0.6 * noise(q) + 0.4 * noise(q * vec3(1.0, 3.1, 3.1));
    streak = mix(streak, 0.5, clamp(fwidth(q.y) * 0.25, 0.0, 1.0));
    cover = clamp((streak - 0.5) * 1.6 + patternShare, 0.0, 1.0) * 0.5;
    rough = 0.5 * (streak - 0.5);
    height = 0.01 * streak;`,
  hammered: `vec2 cell = floor(flat2); vec2 at = fract(flat2);
    float nearest = 8.0;
    for (int i = -1; i <= 1; i++) for (int j = -1; j <= 1; j++) {
      vec2 o = vec2(float(i), float(j));
      nearest = min(nearest, length(o + 0.2 + 0.6 * hash2(cell + o) - at));
    }
    float dent = clamp(nearest, 0.0, 1.0);
    height = 0.35 * dent * dent;
    cover = patternShare * smoothstep(0.35, 0.8, dent);`,
  ruler: `float at = flat2.x;
    float tenth = at * 10.0;
    float side = fract(flat2.y);
    float n = floor(tenth + 0.5);
    float mark = mod(n, 10.0) == 0.0 ? 0.55 : mod(n, 5.0) == 0.0 ? 0.4 : 0.25;
    float wide = max(fwidth(tenth), 1e-4);
    float off = abs(tenth - n) - 0.09;
    cover = (1.0 - smoothstep(-0.5 * wide, 0.5 * wide, off)) * step(side, mark);
    // Its number stands after each long mark, five rows of three points for a digit.
    float number = floor(at + 0.01);
    vec2 within = vec2((at - number) * 20.0 - 1.0, (side - 0.62) * 20.0);
    cover = max(cover, digits(abs(number), within));`,
};

const HEAD = `
varying vec3 vPatternAt;
varying vec3 vPatternNormal;
uniform vec3 patternColour;
uniform vec3 patternGlow;
uniform float patternEach;
uniform float patternShare;
uniform float patternSoft;
uniform float patternStrength;
uniform vec2 patternShift;
uniform vec2 patternTurn;
float hash1(vec3 p) {
  uvec3 u = uvec3(ivec3(floor(p)) + 32768);
  uint h = u.x * 1664525u + 1013904223u; h ^= u.y * 2246822519u + (h >> 13);
  h *= 3266489917u; h ^= u.z * 668265263u + (h >> 16); h *= 2654435761u;
  return float(h >> 8) / 16777216.0;
}
vec2 hash2(vec2 p) { return vec2(hash1(vec3(p, 7.0)), hash1(vec3(p, 31.0))); }
float noise(vec3 p) {
  vec3 i = floor(p); vec3 f = fract(p); f = f * f * (3.0 - 2.0 * f);
  return mix(mix(mix(hash1(i), hash1(i + vec3(1,0,0)), f.x), mix(hash1(i + vec3(0,1,0)), hash1(i + vec3(1,1,0)), f.x), f.y),
    mix(mix(hash1(i + vec3(0,0,1)), hash1(i + vec3(1,0,1)), f.x), mix(hash1(i + vec3(0,1,1)), hash1(i + vec3(1,1,1)), f.x), f.y), f.z);
}
// Second colour where the repeat is past 1 - share; edges are as wide as a pixel, at least.
float band(float x) {
  if (patternShare <= 0.0) return 0.0;
  if (patternShare >= 1.0) return 1.0;
  float at = abs(fract(x) - 0.5);
  float edge = 0.5 - 0.5 * patternShare;
  float wide = max(0.6 * fwidth(x), 0.5 * patternSoft * min(patternShare, 1.0 - patternShare));
  float cut = smoothstep(edge - wide, edge + wide, at);
  return mix(cut, patternShare, clamp(fwidth(x) - 0.5, 0.0, 1.0));
}
float digits(float value, vec2 at) {
  int rows[10] = int[](31599, 11415, 29671, 29647, 23497, 31183, 31215, 29257, 31727, 31695);
  if (at.y < 0.0 || at.y >= 5.0 || at.x < 0.0) return 0.0;
  int count = value >= 100.0 ? 3 : value >= 10.0 ? 2 : 1;
  int place = int(floor(at.x / 4.0));
  int column = int(floor(at.x)) - 4 * place;
  if (place >= count || column > 2) return 0.0;
  int digit = int(mod(floor(value / pow(10.0, float(count - 1 - place))), 10.0));
  int bit = int(floor(at.y)) * 3 + (2 - column);
  return float((rows[digit] >> bit) & 1);
}
void patternField(out float cover, out float height, out float rough) {
  cover = 0.0; height = 0.0; rough = 0.0;
  vec3 p = vPatternAt * patternEach;
  p.xy = mat2(patternTurn.x, -patternTurn.y, patternTurn.y, patternTurn.x) * p.xy - patternShift;
  #ifdef PATTERN_BODY
    vec3 facing = abs(vPatternNormal);
    vec2 flat2 = facing.z >= max(facing.x, facing.y) ? p.xy : facing.y >= facing.x ? p.xz : p.zy;
  #else
    vec2 flat2 = p.xy;
  #endif
  FIELD
}
`;

/** Puts a pattern into the program of a standard surface. */
export function patternProgram(
  shader: WebGLProgramParametersWithUniforms,
  pattern: NonNullable<Look['pattern']>,
  uniforms: PatternUniforms,
): void {
  Object.assign(shader.uniforms, uniforms);
  const body = pattern.lies === 'body';
  shader.vertexShader = shader.vertexShader
    .replace('void main() {', 'varying vec3 vPatternAt;\nvarying vec3 vPatternNormal;\nvoid main() {')
    .replace(
      '#include <begin_vertex>',
      `#include <begin_vertex>
      vPatternAt = ${body ? 'position' : 'vec3(uv, 0.0)'};
      vPatternNormal = normal;`,
    );
  shader.fragmentShader = shader.fragmentShader
    .replace(
      'void main() {',
      `${body ? '#define PATTERN_BODY\n' : ''}${HEAD.replace('FIELD', FIELDS[pattern.kind])}
      void main() {
      float patternCover, patternHeight, patternRough;
      patternField(patternCover, patternHeight, patternRough);
      patternCover *= patternStrength;`,
    )
    .replace(
      '#include <color_fragment>',
      '#include <color_fragment>\ndiffuseColor.rgb = mix(diffuseColor.rgb, patternColour, patternCover);',
    )
    .replace(
      '#include <roughnessmap_fragment>',
      `#include <roughnessmap_fragment>
      roughnessFactor = clamp(roughnessFactor + patternRough * patternStrength, 0.0, 1.0);`,
    )
    // Bump of an unparametrised surface (Mikkelsen 2010), by the slopes of the height on the screen.
    .replace(
      '#include <normal_fragment_maps>',
      `#include <normal_fragment_maps>
      {
        float deep = patternHeight * patternStrength / patternEach;
        vec3 alongX = dFdx(-vViewPosition); vec3 alongY = dFdy(-vViewPosition);
        vec3 r1 = cross(alongY, normal); vec3 r2 = cross(normal, alongX);
        float det = dot(alongX, r1) * faceDirection;
        vec3 slope = sign(det) * (dFdx(deep) * r1 + dFdy(deep) * r2);
        if (abs(det) > 0.0) normal = normalize(abs(det) * normal - slope);
      }`,
    )
    .replace(
      '#include <emissivemap_fragment>',
      '#include <emissivemap_fragment>\ntotalEmissiveRadiance = mix(totalEmissiveRadiance, patternGlow, patternCover);',
    );
}
