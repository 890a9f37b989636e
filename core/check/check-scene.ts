import { addressOf, sampledChannels, type Shot } from '../document';
import { channelName } from '../edit';
import type { CheckOptions, Problem } from './problem';

/** What is missing from the scene as a whole, or asked of it that it cannot give. */
export function checkScene(shot: Shot, options: CheckOptions): Problem[] {
  const problems: Problem[] = [];
  if (shot.setup.camera === null)
    problems.push({
      code: 'camera.none',
      severity: 'error',
      address: 'setup/camera',
      message: 'The shot has no camera: nothing can be rendered.',
    });
  for (const [id, sound] of Object.entries(shot.sounds))
    if (!sound.asset || (options.files && !options.files.has(sound.asset)))
      problems.push({
        code: 'file.missing',
        severity: 'error',
        address: id,
        message: `The file of the sound ${sound.name} is missing: give it again, or delete the sound.`,
      });
  const soft = Object.keys(shot.parts).flatMap((id) => sampledChannels(shot, id));
  const [first] = soft;
  if (first && (shot.setup.samples ?? 1) === 1)
    problems.push({
      code: 'samples.one',
      severity: 'warning',
      address: addressOf(first),
      message: `${channelName(shot, addressOf(first))}${soft.length > 1 ? ` and ${soft.length - 1} more` : ''} will not show: each frame is one picture. Set samples to 8 or more for the shot.`,
    });
  const { film } = options;
  if (film?.alpha && !film.keepsAlpha)
    problems.push({
      code: 'alpha.format',
      severity: 'error',
      address: 'setup',
      message: `${film.format} cannot keep transparency: choose WebM or PNG frames, or render without it.`,
    });
  for (const address of options.unkeyed ?? [])
    problems.push({
      code: 'value.unkeyed',
      severity: 'warning',
      address,
      message: `${channelName(shot, address)} was changed and not keyed: the film will not show the change.`,
    });
  return problems;
}
