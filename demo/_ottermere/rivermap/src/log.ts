import pino from 'pino';

/** The one logger of the river map; the level comes from the profile. */
export const log = pino({ name: 'rivermap', level: process.env.RIVERMAP_LOG_LEVEL ?? 'info' });
