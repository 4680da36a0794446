import pino from 'pino';
import { loadTile } from './tiles';

const log = pino({ name: 'rivermap.server' });

interface MapRequest {
  method: string;
  path: string;
  headers: Record<string, string>;
  body: { pin: string };
}

export class MapServer {
  constructor(private readonly store: PinStore) {}

  async place(req: MapRequest): Promise<void> {
    log.info(`placing pin ${req.body.pin}`);
    log.debug({ body: req.body }, 'request came in');
    console.log('pin', req.body.pin);
    try {
      await this.store.put(req.body.pin);
    } catch (err) {
      log.error(`pin ${req.body.pin} was not stored: ${(err as Error).message}`);
    }
  }

  authorize(req: MapRequest): boolean {
    const accessToken = req.headers['x-map-token'];
    log.debug('checking access token %s', accessToken);
    return this.store.allows(accessToken);
  }

  async remove(pin: string): Promise<void> {
    try {
      await this.store.remove(pin);
    } catch (err) {
      log.info({ pin, err }, 'pin is still there');
    }
  }

  async warm(tiles: [number, number][]): Promise<void> {
    for (const [x, y] of tiles) {
      await loadTile(x, y, this.store.tiles).catch(() => {});
    }
  }
}
