import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import {
  ArrowUUpLeftIcon,
  ArrowUUpRightIcon,
  LinkSimpleIcon,
  ListBulletsIcon,
  ListNumbersIcon,
  TableIcon,
  TextBolderIcon,
  TextItalicIcon,
  TextUnderlineIcon,
} from '@phosphor-icons/react';
import { documentIn, richTextAs } from '@bibliona/core';
import { TableKit } from '@tiptap/extension-table';
import { EditorContent, useEditor, useEditorState, type Editor, type JSONContent } from '@tiptap/react';
import { StarterKit } from '@tiptap/starter-kit';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { FieldGroup } from './FieldGroup.js';
import { textOf, type FieldInputProps, type FieldOf } from './kind.js';

const extensions = [
  StarterKit.configure({
    heading: { levels: [1, 2, 3] },
    codeBlock: false,
    link: { openOnClick: false, autolink: true, defaultProtocol: 'https', protocols: ['http', 'https', 'mailto', 'tel'], HTMLAttributes: { class: 'lk' } },
  }),
  TableKit.configure({ table: { resizable: false } }),
];
/** What the editor begins with: it changes the document that it is given. */
const contentOf = (value: string): JSONContent | string => structuredClone(documentIn(value) as JSONContent | null) ?? '';
/** In milliseconds: the form is told when typing pauses. */
const pause = 150;

/** A text with headings, lists, links and tables, written as it will be read. */
export function RichTextInput(props: FieldInputProps<FieldOf<'rich_text'>>) {
  const { field, value, onChange, onBlur, problem, isInRow } = props;
  const told = useRef(textOf(value));
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  const tell = (editor: Editor): void => {
    clearTimeout(timer.current);
    const now = richTextAs(editor.getJSON()) ?? '';
    if (now === told.current) return;
    told.current = now;
    latest.current(now);
  };
  const editor = useEditor({
    extensions,
    content: contentOf(textOf(value)),
    // Its styles are in the sheets of the product, which may have no others.
    injectCSS: false,
    editorProps: { attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': field.name, class: 'rich-text rich-text-body' } },
    onUpdate: ({ editor: changed }) => {
      clearTimeout(timer.current);
      timer.current = setTimeout(() => tell(changed), pause);
    },
    onBlur: ({ editor: left }) => {
      tell(left);
      onBlur();
    },
  });
  // What the form says by itself is taken over, such as when changes are discarded.
  useEffect(() => {
    const said = textOf(value);
    if (said === told.current || editor === null) return;
    told.current = said;
    editor.commands.setContent(contentOf(said), { emitUpdate: false });
  }, [value, editor]);
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <FieldGroup field={field} isInRow={isInRow} problems={problem === undefined ? [] : [problem]} className="rich-text-input">
      {editor !== null && <Tools editor={editor} />}
      <EditorContent editor={editor} />
    </FieldGroup>
  );
}

const styles = [
  ['text', 'Text'],
  ['1', 'Large heading'],
  ['2', 'Heading'],
  ['3', 'Small heading'],
] as const;

function Tools({ editor }: { readonly editor: Editor }) {
  const now = useEditorState({
    editor,
    selector: ({ editor: current }) => ({
      heading: [1, 2, 3].find((level) => current.isActive('heading', { level })),
      bold: current.isActive('bold'),
      italic: current.isActive('italic'),
      underline: current.isActive('underline'),
      bullets: current.isActive('bulletList'),
      numbers: current.isActive('orderedList'),
      link: current.isActive('link'),
      table: current.isActive('table'),
      canUndo: current.can().undo(),
      canRedo: current.can().redo(),
    }),
  });
  const chain = () => editor.chain().focus();
  const tool = (label: string, isOn: boolean | undefined, icon: ReactNode, act: () => void, isDisabled = false) => (
    <IconButton
      size="small"
      aria-label={label}
      title={label}
      {...(isOn === undefined ? {} : { 'aria-pressed': isOn, className: isOn ? 'on' : '' })}
      disabled={isDisabled}
      onMouseDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {icon}
    </IconButton>
  );
  return (
    <div className="rich-text-tools" role="toolbar" aria-label="Formatting">
      <TextField
        select
        hiddenLabel
        value={String(now.heading ?? 'text')}
        onChange={(event) => {
          const level = Number(event.target.value);
          if (Number.isNaN(level)) chain().setParagraph().run();
          else
            chain()
              .setHeading({ level: level as 1 | 2 | 3 })
              .run();
        }}
        slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Style of the paragraph' } } }}
      >
        {styles.map(([id, name]) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      {tool('Bold', now.bold, <TextBolderIcon size={16} />, () => chain().toggleBold().run())}
      {tool('Italic', now.italic, <TextItalicIcon size={16} />, () => chain().toggleItalic().run())}
      {tool('Underlined', now.underline, <TextUnderlineIcon size={16} />, () => chain().toggleUnderline().run())}
      {tool('Bullets', now.bullets, <ListBulletsIcon size={16} />, () => chain().toggleBulletList().run())}
      {tool('Numbers', now.numbers, <ListNumbersIcon size={16} />, () => chain().toggleOrderedList().run())}
      <LinkTool editor={editor} isOn={now.link} />
      {tool('Table', undefined, <TableIcon size={16} />, () => chain().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run(), now.table)}
      {tool('Undo', undefined, <ArrowUUpLeftIcon size={16} />, () => chain().undo().run(), !now.canUndo)}
      {tool('Redo', undefined, <ArrowUUpRightIcon size={16} />, () => chain().redo().run(), !now.canRedo)}
      {now.table && (
        <span className="rich-text-table">
          <Button size="small" onClick={() => chain().addRowAfter().run()}>
            Add row
          </Button>
          <Button size="small" onClick={() => chain().addColumnAfter().run()}>
            Add column
          </Button>
          <Button size="small" onClick={() => chain().deleteRow().run()}>
            Remove row
          </Button>
          <Button size="small" onClick={() => chain().deleteColumn().run()}>
            Remove column
          </Button>
          <Button size="small" onClick={() => chain().deleteTable().run()}>
            Remove table
          </Button>
        </span>
      )}
    </div>
  );
}

/** As people write the address of a page or a mail. */
function addressOf(typed: string): string | null {
  const text = typed.trim();
  const address = /^(?:https?:\/\/|mailto:|tel:)/iu.test(text) ? text : /^[^\s@/]+@[^\s@/]+$/u.test(text) ? `mailto:${text}` : `https://${text}`;
  return /^(?:https?:\/\/[^\s<>"]+\.[^\s<>"]+|mailto:[^\s<>"]+|tel:[^\s<>"]+)$/iu.test(address) ? address : null;
}

function LinkTool({ editor, isOn }: { readonly editor: Editor; readonly isOn: boolean }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [typed, setTyped] = useState('');
  const [isWrong, setWrong] = useState(false);
  const close = (): void => {
    setAnchor(null);
    editor.commands.focus();
  };
  const set = (): void => {
    const href = addressOf(typed);
    if (href === null) return setWrong(true);
    const isEmpty = editor.state.selection.empty && !isOn;
    if (isEmpty)
      editor
        .chain()
        .focus()
        .insertContent({ type: 'text', text: typed.trim(), marks: [{ type: 'link', attrs: { href } }] })
        .run();
    else editor.chain().focus().extendMarkRange('link').setLink({ href }).run();
    setAnchor(null);
  };
  return (
    <>
      <IconButton
        size="small"
        aria-label="Link"
        title="Link"
        aria-pressed={isOn}
        className={isOn ? 'on' : ''}
        onClick={(event) => {
          setTyped(String(editor.getAttributes('link')['href'] ?? ''));
          setWrong(false);
          setAnchor(event.currentTarget);
        }}
      >
        <LinkSimpleIcon size={16} />
      </IconButton>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={close} anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }} transitionDuration={0}>
        <div className="rich-text-link">
          <TextField
            label="Address"
            autoFocus
            value={typed}
            error={isWrong}
            helperText={isWrong ? 'Write it like www.example.org or anna@example.org' : ' '}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              // The form around is not saved by it.
              event.preventDefault();
              set();
            }}
          />
          <Button variant="outlined" onClick={set}>
            Set link
          </Button>
          {isOn && (
            <Button
              onClick={() => {
                editor.chain().focus().extendMarkRange('link').unsetLink().run();
                setAnchor(null);
              }}
            >
              Remove link
            </Button>
          )}
        </div>
      </Popover>
    </>
  );
}
