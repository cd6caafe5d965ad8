import type { PublishedKind } from '@bibliona/core';
import { lazy, Suspense, type ComponentType } from 'react';
import { useParams } from 'react-router';
import '../../look/desk.js';
import { Waiting } from '../../ui/Waiting.js';
import { NothingThere, type PublishedProps } from './NothingThere.js';

const views: { readonly [K in PublishedKind]: ComponentType<PublishedProps> } = {
  list: lazy(() => import('./PublishedList.js')),
  report: lazy(() => import('./PublishedReport.js')),
  tile: lazy(() => import('./PublishedTile.js')),
};
const isKind = (kind: string): kind is PublishedKind => Object.hasOwn(views, kind);

/** A list, a report or a tile that anyone can see, at an address of its own or within a page of another site. */
export default function PublishedScreen() {
  const { app = '', kind = '', part = '' } = useParams();
  if (!isKind(kind)) return <NothingThere words="There is nothing at this address, or it is no longer public." />;
  const View = views[kind];
  return (
    <Suspense fallback={<Waiting />}>
      <View key={`${app} ${kind} ${part}`} app={app} part={part} />
    </Suspense>
  );
}
