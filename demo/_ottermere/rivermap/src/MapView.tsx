import React from 'react';
import pino from 'pino';

const log = pino({ name: 'rivermap.view', browser: {} });

/** The map that residents see. */
export const MapView: React.FC<{ gauges: Gauge[] }> = ({ gauges }) => {
  const pick = (gauge: Gauge) => {
    log.debug({ gauge: gauge.id }, 'gauge picked');
    console.table(gauge);
  };
  return (
    <ul className="map">
      {gauges.map((g) => (
        <li key={g.id} onClick={() => pick(g)}>
          {g.name}: it's at {g.height} m
        </li>
      ))}
    </ul>
  );
};
