import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { ArrowDownIcon, ArrowUpIcon, PlusIcon, XIcon } from '@phosphor-icons/react';
import { mostOwnLinks, mostOwnSections, OwnSections, type OwnMenu, type OwnSection } from '@bibliona/core';
import { useState } from 'react';
import { messageOf } from '../state/api.js';
import { useApp } from '../state/app.js';
import { useOwnMenu } from '../state/own-menu.js';
import { FormDialog } from '../ui/FormDialog.js';
import { shownLink } from './shown-link.js';

interface Spot {
  readonly section: number;
  readonly link: number;
}

/** Arranges one's own part of the menu: names of sections, and what is in them. */
export default function OwnMenuDialog({ menu: now, onClose }: { readonly menu: OwnMenu; readonly onClose: () => void }) {
  const app = useApp();
  // The one that it began with: what comes of it is refused where another window was faster.
  const [menu] = useState(now);
  const { arrange } = useOwnMenu();
  const [sections, setSections] = useState<readonly OwnSection[]>(menu.sections);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const [isTold, setTold] = useState(false);
  const [isSending, setSending] = useState(false);
  const wrongAt = (i: number): string | undefined =>
    OwnSections.safeParse(sections).error?.issues.find((issue) => issue.path[0] === i && issue.path[1] === 'name')?.message;
  const set = (at: number, part: Partial<OwnSection>): void => setSections(sections.map((section, i) => (i === at ? { ...section, ...part } : section)));
  const send = async (): Promise<void> => {
    setTold(true);
    if (sections.some((_, i) => wrongAt(i) !== undefined)) return;
    setSending(true);
    try {
      await arrange(menu, OwnSections.parse(sections));
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
      setSending(false);
    }
  };
  return (
    <FormDialog
      title="My menu"
      intro="Only you see this part of the menu. The star at the top of a page or a record adds it here."
      onClose={onClose}
      onSubmit={() => void send()}
      verb="Save"
      isSending={isSending}
      problem={problem}
    >
      {sections.map((section, i) => (
        <fieldset key={i} className="own-menu-section">
          <legend className="vh">{section.name}</legend>
          <div className="own-menu-head">
            <TextField
              label="Section"
              value={section.name}
              onChange={(event) => set(i, { name: event.target.value })}
              error={isTold && wrongAt(i) !== undefined}
              helperText={isTold && wrongAt(i) !== undefined ? `It ${wrongAt(i) ?? ''}` : undefined}
            />
            {section.links.length === 0 && (
              <IconButton aria-label={`Remove the section ${section.name}`} onClick={() => setSections(sections.filter((_, at) => at !== i))}>
                <XIcon size={14} />
              </IconButton>
            )}
          </div>
          <ul>
            {section.links.map((link, at) => {
              const name = shownLink(app, menu, link)?.name ?? 'No longer there';
              const move = (by: 1 | -1): void => setSections(moved(sections, { section: i, link: at }, by));
              return (
                <li key={at}>
                  <span className="el">{name}</span>
                  <IconButton aria-label={`Move ${name} up`} disabled={!canMove(sections, { section: i, link: at }, -1)} onClick={() => move(-1)}>
                    <ArrowUpIcon size={14} />
                  </IconButton>
                  <IconButton aria-label={`Move ${name} down`} disabled={!canMove(sections, { section: i, link: at }, 1)} onClick={() => move(1)}>
                    <ArrowDownIcon size={14} />
                  </IconButton>
                  <IconButton aria-label={`Remove ${name}`} onClick={() => set(i, { links: section.links.filter((_, n) => n !== at) })}>
                    <XIcon size={14} />
                  </IconButton>
                </li>
              );
            })}
          </ul>
          {section.links.length === 0 && <p className="q sm">Nothing in it yet.</p>}
        </fieldset>
      ))}
      {sections.length < mostOwnSections && (
        <div>
          <Button startIcon={<PlusIcon />} onClick={() => setSections([...sections, { name: `My section ${sections.length + 1}`, links: [] }])}>
            Section
          </Button>
        </div>
      )}
    </FormDialog>
  );
}

/** Where a link is after a step: within its section, or at the near end of the next one. */
function canMove(sections: readonly OwnSection[], { section, link }: Spot, by: 1 | -1): boolean {
  const isWithin = sections[section]?.links[link + by] !== undefined;
  return isWithin || (sections[section + by]?.links.length ?? mostOwnLinks) < mostOwnLinks;
}
function moved(sections: readonly OwnSection[], at: Spot, by: 1 | -1): readonly OwnSection[] {
  const from = sections[at.section];
  const link = from?.links[at.link];
  if (from === undefined || link === undefined || !canMove(sections, at, by)) return sections;
  const left = from.links.filter((_, i) => i !== at.link);
  const isWithin = from.links[at.link + by] !== undefined;
  return sections.map((section, i) => {
    if (isWithin) return i === at.section ? { ...section, links: left.toSpliced(at.link + by, 0, link) } : section;
    if (i === at.section) return { ...section, links: left };
    return i === at.section + by ? { ...section, links: by === 1 ? [link, ...section.links] : [...section.links, link] } : section;
  });
}
