import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { StarIcon } from '@phosphor-icons/react';
import type { OwnLink } from '@bibliona/core';
import { useState } from 'react';
import { messageOf } from '../state/api.js';
import { isSameLink, useOwnMenu, withLink, withoutLink } from '../state/own-menu.js';

/** Puts a page or a record into one's own part of the menu, or takes it out. */
export function Favourite({ link }: { readonly link: OwnLink }) {
  const { menu, change, mayKeep } = useOwnMenu();
  const [problem, setProblem] = useState<string | null>(null);
  if (!mayKeep) return null;
  // It is there before the menu is known, so that nothing beside it moves.
  const isIn = menu?.sections.some((section) => section.links.some((each) => isSameLink(each, link))) === true;
  const label = isIn ? 'Remove from my menu' : 'Add to my menu';
  const toggle = async (): Promise<void> => {
    setProblem(null);
    try {
      await change((sections) => (isIn ? withoutLink(sections, link) : withLink(withoutLink(sections, link), link)));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <>
      {problem !== null && (
        <span role="alert" className="q sm">
          {problem}
        </span>
      )}
      <Tooltip title={label}>
        <IconButton aria-label={label} onClick={() => void toggle()}>
          <StarIcon size={18} weight={isIn ? 'fill' : 'regular'} />
        </IconButton>
      </Tooltip>
    </>
  );
}
