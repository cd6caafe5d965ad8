import type { PublishedKind } from '@bibliona/core';
import { Copied } from './Copied.js';
import { Lines } from './Lines.js';

/** The websites whose pages something public can be a part of, and what is put into such a page. */
export function WebsiteFields(props: {
  readonly app: string;
  readonly kind: 'form' | PublishedKind;
  /** As addresses name it. */
  readonly name: string;
  readonly sites: readonly string[];
  readonly problem: string | undefined;
  readonly onChange: (sites: readonly string[]) => void;
}) {
  const { app, kind, name, sites, problem, onChange } = props;
  const lines = `<script src="${window.location.origin}/embed.js" async></script>\n<bibliona-${kind} ${kind}="${app}/${name}"></bibliona-${kind}>`;
  return (
    <>
      <Lines
        label="Websites that can show it"
        values={sites}
        onChange={onChange}
        hint={problem === undefined ? 'One per line, such as https://example.org' : `Each ${problem}`}
        isWrong={problem !== undefined}
      />
      {sites.length > 0 && <Copied label="Put this into a page there" text={lines} />}
    </>
  );
}
