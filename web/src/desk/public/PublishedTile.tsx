import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import type { z } from 'zod';
import { call } from '../../state/api.js';
import { useLocaleIn } from '../../state/locale.js';
import { TileView } from '../../ui/tiles/TileView.js';
import { Waiting } from '../../ui/Waiting.js';
import { NothingRead, type PublishedProps } from './NothingThere.js';
import { PublicSheet } from './PublicSheet.js';

/** In milliseconds: a tile on the page of a shop or on a wall goes along with the records. */
const readAgainEvery = 60_000;

/** A tile of a dashboard as visitors see it. */
export default function PublishedTile({ app, part }: PublishedProps) {
  const [dashboard = '', tile = ''] = part.split('.');
  const { data, error } = useQuery({
    queryKey: ['published tile', app, part],
    queryFn: ({ signal }) => call(contract.readPublishedTile, { params: { app, dashboard, tile }, signal }),
    retry: false,
    refetchInterval: readAgainEvery,
  });
  if (data !== undefined) return <Shown {...data} />;
  return error === null ? <Waiting /> : <NothingRead error={error} />;
}

function Shown({ tile, answer, region, timeZone }: z.output<typeof contract.readPublishedTile.answer>) {
  useLocaleIn({ region, timeZone });
  return (
    <PublicSheet name={tile.name} isNamed size="tile">
      <div className={tile.kind === 'line' ? 'public-tile of-line' : 'public-tile'}>
        <TileView tile={tile} answer={answer} problem={null} />
      </div>
    </PublicSheet>
  );
}
