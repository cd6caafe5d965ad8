import { MiniMap, useReactFlow, useStore } from '@xyflow/react';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { ArrowsInIcon, DownloadSimpleIcon, MinusIcon, NoteIcon, PlusIcon, SelectionPlusIcon, TreeStructureIcon } from '@phosphor-icons/react';
import { useState, type ReactElement } from 'react';
import { messageOf, saveBlob, saveText } from '../../state/api.js';
import { useDesignNotice } from '../../state/design.js';
import { locale } from '../../state/locale.js';
import { inDots, type Picture } from './diagram-picture.js';
import type { Layout } from './diagram-layout.js';

interface ToolsProps {
  readonly bounds: Layout['bounds'];
  /** What the app is called, and so its pictures. */
  readonly name: string;
  readonly picture: () => Picture;
  readonly onShowAll: () => void;
  /** Null: no table has a place of its own. */
  readonly onArrange: (() => void) | null;
  readonly onSection: () => void;
  readonly onNote: () => void;
}

function Tool({ label, onClick, isMenu = false, children }: { label: string; onClick: (at: HTMLElement) => void; isMenu?: boolean; children: ReactElement }) {
  return (
    <Tooltip title={label}>
      <IconButton size="small" aria-label={label} {...(isMenu ? { 'aria-haspopup': 'menu' } : {})} onClick={(event) => onClick(event.currentTarget)}>
        {children}
      </IconButton>
    </Tooltip>
  );
}

/** By how much a diagram is larger than its sheet before the whole of it is shown beside: it covers a part of the sheet. */
const muchWider = 1.4;
const overviewSize = { width: 160, height: 100 };

/** What a large diagram needs: how large it is drawn, where one is in it, and a picture of it to take along. */
export function DiagramTools({ bounds, name, picture, onShowAll, onArrange, onSection, onNote }: ToolsProps) {
  const { zoomIn, zoomOut } = useReactFlow();
  const [, , zoom] = useStore((flow) => flow.transform);
  const isMuchWider = useStore(({ transform: [, , at], width, height }) => bounds.width * at > width * muchWider || bounds.height * at > height * muchWider);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const savePng = async (): Promise<void> => saveBlob(`${name}.png`, await inDots(picture()));
  const choose = (save: () => Promise<void> | void) => (): void => {
    setAnchor(null);
    void Promise.resolve()
      .then(save)
      .catch((error: unknown) => useDesignNotice.getState().say({ kind: 'message', text: messageOf(error), isGood: false }));
  };
  return (
    <>
      <div className="map-tools" role="toolbar" aria-label="Diagram">
        <Tool label="Draw it smaller" onClick={() => void zoomOut()}>
          <MinusIcon />
        </Tool>
        <span className="map-size" aria-label="Size">
          {locale().count(Math.round(zoom * 100))} %
        </span>
        <Tool label="Draw it larger" onClick={() => void zoomIn()}>
          <PlusIcon />
        </Tool>
        <Tool label="Show all tables" onClick={onShowAll}>
          <ArrowsInIcon />
        </Tool>
        {onArrange !== null && (
          <Tool label="Arrange by relationships" onClick={onArrange}>
            <TreeStructureIcon />
          </Tool>
        )}
        <Tool label="New section of tables" onClick={onSection}>
          <SelectionPlusIcon />
        </Tool>
        <Tool label="New note" onClick={onNote}>
          <NoteIcon />
        </Tool>
        <Tool label="Save as a picture" isMenu onClick={setAnchor}>
          <DownloadSimpleIcon />
        </Tool>
      </div>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        <MenuItem onClick={choose(savePng)}>PNG, for documents</MenuItem>
        <MenuItem onClick={choose(() => saveText(`${name}.svg`, picture().svg, 'image/svg+xml'))}>SVG, for any size</MenuItem>
      </Menu>
      {isMuchWider && <MiniMap className="map-overview" style={overviewSize} pannable zoomable position="bottom-left" ariaLabel="The whole diagram, small" />}
    </>
  );
}
