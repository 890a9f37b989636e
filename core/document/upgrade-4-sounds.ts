type Written = Record<string, unknown>;

/** Version 4 lets a sound be played: it has a level, which can be keyed and linked. */
export function soundsWithLevel(shot: Written): Written {
  const { sounds } = shot;
  if (typeof sounds !== 'object' || sounds === null) return shot;
  return {
    ...shot,
    sounds: Object.fromEntries(
      Object.entries(sounds).map(([id, sound]: [string, unknown]) => [
        id,
        typeof sound === 'object' && sound !== null ? { values: {}, tracks: {}, links: {}, ...sound } : sound,
      ]),
    ),
  };
}
