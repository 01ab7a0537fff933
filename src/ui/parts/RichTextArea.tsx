import { EditorContent, useEditor, useEditorState, type Editor, type JSONContent } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { Bold, Italic, Link2, List } from 'lucide-react';
import { useState } from 'react';
import { mayLeadTo, readRich, writeRich, type RichBlock, type Run } from '../../core/text/rich-text.ts';
import css from './RichTextArea.module.css';

const EXTENSIONS = [
  StarterKit.configure({
    ...{ heading: false, blockquote: false, code: false, codeBlock: false, horizontalRule: false },
    ...{ orderedList: false, strike: false, underline: false, hardBreak: false, trailingNode: false },
    link: { openOnClick: false, autolink: false, isAllowedUri: (url) => mayLeadTo(url) },
  }),
];

/** A text with its few manners: strong, emphasis, links, a list. `value` is read once, in the markup it is kept in. */
export function RichTextArea({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
}) {
  const editor = useEditor({
    extensions: EXTENSIONS,
    content: documentOf(readRich(value)),
    autofocus: 'end',
    // The policy of the desk's pages lets in no style that a script brings.
    injectCSS: false,
    editorProps: { attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': label } },
    onUpdate: ({ editor: e }) => onChange(writeRich(blocksOf(e.getJSON()))),
  });
  return (
    <div className={css['rich']}>
      <Manners editor={editor} />
      <EditorContent
        editor={editor}
        className={css['area']}
        onKeyDown={(e) => e.key === 'Enter' && !e.ctrlKey && e.stopPropagation()}
      />
    </div>
  );
}

function Manners({ editor }: { readonly editor: Editor }) {
  const [address, setAddress] = useState<string>();
  const now = useEditorState({
    editor,
    selector: ({ editor: e }) => ({
      bold: e.isActive('bold'),
      italic: e.isActive('italic'),
      list: e.isActive('bulletList'),
      noWords: e.state.selection.empty,
      link: e.isActive('link') ? String(e.getAttributes('link')['href'] ?? '') : undefined,
    }),
  });
  const button = (words: string, on: boolean, icon: React.ReactNode, act: () => void, whyNot?: string) => (
    <button
      type="button"
      aria-label={words}
      title={whyNot === undefined ? words : `${words}: ${whyNot}`}
      aria-pressed={on}
      disabled={whyNot !== undefined}
      onMouseDown={(e) => e.preventDefault()}
      onClick={act}
    >
      {icon}
    </button>
  );
  const lead = () => {
    const href = (address ?? '').trim();
    const chain = editor.chain().focus().extendMarkRange('link');
    if (href === '') chain.unsetLink().run();
    else if (mayLeadTo(href)) chain.setLink({ href }).run();
    else return;
    setAddress(undefined);
  };
  const wrong = address !== undefined && address.trim() !== '' && !mayLeadTo(address.trim());
  return (
    <>
      <div role="toolbar" aria-label="Manners" className={css['tools']}>
        {button('Strong', now.bold, <Bold size={15} aria-hidden />, () =>
          editor.chain().focus().toggleBold().run(),
        )}
        {button('Emphasis', now.italic, <Italic size={15} aria-hidden />, () =>
          editor.chain().focus().toggleItalic().run(),
        )}
        {button('List', now.list, <List size={15} aria-hidden />, () =>
          editor.chain().focus().toggleBulletList().run(),
        )}
        {button(
          'Link',
          now.link !== undefined,
          <Link2 size={15} aria-hidden />,
          () => setAddress(address === undefined ? (now.link ?? 'https://') : undefined),
          now.noWords && now.link === undefined && address === undefined
            ? 'choose the words first'
            : undefined,
        )}
      </div>
      {address !== undefined && (
        <div className={css['link']}>
          <input
            autoFocus
            aria-label="Where the chosen words lead"
            value={address}
            onChange={(e) => setAddress(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              e.preventDefault();
              e.stopPropagation();
              lead();
            }}
          />
          <button type="button" onClick={lead} disabled={wrong}>
            {address.trim() === '' ? 'No link' : 'Link'}
          </button>
          {wrong && <small>An address of the web, a page such as /privacy, or mailto:.</small>}
        </div>
      )}
    </>
  );
}

function documentOf(blocks: readonly RichBlock[]): JSONContent {
  const words = (runs: readonly Run[]): JSONContent[] =>
    runs.map(({ text, strong, em, href }) => ({
      type: 'text',
      text,
      marks: [
        ...(strong ? [{ type: 'bold' }] : []),
        ...(em ? [{ type: 'italic' }] : []),
        ...(href === undefined ? [] : [{ type: 'link', attrs: { href } }]),
      ],
    }));
  const paragraph = (runs: readonly Run[]): JSONContent => ({ type: 'paragraph', content: words(runs) });
  const content = blocks.map((b): JSONContent =>
    b.is === 'list'
      ? {
          type: 'bulletList',
          content: b.items.map((i) => ({ type: 'listItem', content: [paragraph(i)] })),
        }
      : paragraph(b.runs),
  );
  return { type: 'doc', content: content.length > 0 ? content : [{ type: 'paragraph' }] };
}

/** Of a document of the editor; a list within a list becomes one. */
export function blocksOf({ content = [] }: JSONContent): readonly RichBlock[] {
  const items = (list: JSONContent): readonly (readonly Run[])[] =>
    (list.content ?? []).flatMap((item) =>
      (item.content ?? []).flatMap((inside) =>
        inside.type === 'bulletList' ? items(inside) : [runsOf(inside)],
      ),
    );
  return content.map((node): RichBlock =>
    node.type === 'bulletList' ? { is: 'list', items: items(node) } : { is: 'paragraph', runs: runsOf(node) },
  );
}

function runsOf({ content = [] }: JSONContent): readonly Run[] {
  return content.flatMap(({ text = '', marks = [] }): readonly Run[] => {
    if (text === '') return [];
    const has = (type: string) => marks.some((m) => m.type === type);
    const href: unknown = marks.find((m) => m.type === 'link')?.attrs?.['href'];
    return [
      {
        text,
        ...(has('bold') ? { strong: true as const } : {}),
        ...(has('italic') ? { em: true as const } : {}),
        ...(typeof href === 'string' ? { href } : {}),
      },
    ];
  });
}
