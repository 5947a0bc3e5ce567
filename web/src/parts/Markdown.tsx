import { Popover } from "antd";
import type { ReactNode } from "react";

export type Meanings = Map<string, string>;

/** The guide's own plain marks: headings, paragraphs, lists, tables, pictures, bold, italic, code; words explained. */
export function Markdown({ text, words }: { text: string; words: Meanings }) {
  return <>{text.split(/\n{2,}/).map((block, index) => block_of(block.trim(), words, index))}</>;
}

function block_of(block: string, words: Meanings, key: number): ReactNode {
  if (!block) return null;
  const picture = /^!\[([^\]]*)\]\(screenshots\/([^)]+)\)\s*/.exec(block);
  if (picture)
    return (
      <div key={key}>
        <img
          className="guide-picture"
          src={`/api/guide/pictures/${picture[2]}`}
          alt={picture[1]}
          loading="lazy"
        />
        {block_of(block.slice(picture[0].length), words, 0)}
      </div>
    );
  const heading = /^###+ (.*)\n?/.exec(block);
  if (heading)
    return (
      <div key={key}>
        <h3>{heading[1]}</h3>
        {block_of(block.slice(heading[0].length), words, 0)}
      </div>
    );
  const lines = block.split("\n");
  if (lines[0].startsWith("|")) return <Table key={key} lines={lines} words={words} />;
  if (/^[-*] /.test(lines[0]))
    return (
      <ul key={key}>
        {block.split(/\n(?=[-*] )/).map((item, index) => (
          <li key={index}>{inline(item.slice(2), words)}</li>
        ))}
      </ul>
    );
  return <p key={key}>{inline(lines.join(" "), words)}</p>;
}

function Table({ lines, words }: { lines: string[]; words: Meanings }) {
  const cells = (line: string) => line.split("|").slice(1, -1);
  const [head, , ...rows] = lines;
  return (
    <table className="plain">
      <thead>
        <tr>
          {cells(head).map((cell, index) => (
            <th key={index}>{inline(cell.trim(), words)}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={index}>
            {cells(row).map((cell, at) => (
              <td key={at}>{inline(cell.trim(), words)}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const MARKS = /(\*\*[^*]+\*\*|\*[^*]+\*|`[^`]+`|\[[^\]]+\]\([^)]+\))/;

function inline(text: string, words: Meanings): ReactNode[] {
  return text.split(MARKS).map((part, index) => {
    if (part.startsWith("**")) return <b key={index}>{part.slice(2, -2)}</b>;
    if (part.startsWith("`")) return <code key={index}>{part.slice(1, -1)}</code>;
    if (part.startsWith("*") && part.length > 2) return <i key={index}>{part.slice(1, -1)}</i>;
    const link = /^\[([^\]]+)\]\(/.exec(part);
    if (link) return <span key={index}>{link[1]}</span>;
    return <span key={index}>{explained(part, words)}</span>;
  });
}

/** A word of the trade opens what it means when it is touched. */
function explained(text: string, words: Meanings): ReactNode[] {
  if (!words.size) return [text];
  const names = [...words.keys()].sort((a, b) => b.length - a.length).join("|");
  return text.split(new RegExp(`\\b(${names})\\b`, "gi")).map((part, index) => {
    const meaning = words.get(part.toLowerCase());
    return meaning ? (
      <Popover key={index} content={<div style={{ maxWidth: 320 }}>{meaning}</div>} trigger="click">
        <button className="word">{part}</button>
      </Popover>
    ) : (
      part
    );
  });
}
