import fc from 'fast-check';

/**
 * Generated tests try the same documents each time, so that what passes here passes everywhere. Other ones:
 * `WHIRL_TEST_SEED=7 ./whirl test unit`.
 */
fc.configureGlobal({ seed: Number(process.env.WHIRL_TEST_SEED ?? 20261124) });
