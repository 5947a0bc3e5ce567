import { Popover } from "antd";
import { Children, type ReactNode } from "react";
import Plain, { type Components } from "react-markdown";
import tables from "remark-gfm";

export type Meanings = Map<string, string>;

/** The guide's text: its pictures come from the server, and words of the trade open what they mean. */
export function Markdown({ text, words }: { text: string; words: Meanings }) {
  const said = (children: ReactNode) =>
    Children.map(children, (child) => (typeof child === "string" ? explained(child, words) : child));
  const components: Components = {
    p: ({ children }) => <p>{said(children)}</p>,
    li: ({ children }) => <li>{said(children)}</li>,
    th: ({ children }) => <th>{said(children)}</th>,
    td: ({ children }) => <td>{said(children)}</td>,
    strong: ({ children }) => <b>{children}</b>,
    em: ({ children }) => <i>{children}</i>,
    table: ({ children }) => <table className="plain">{children}</table>,
    // A place in the project's own files leads nowhere from here.
    a: ({ children }) => <span>{children}</span>,
    img: ({ src, alt }) => (
      <img
        className="guide-picture"
        src={String(src).replace(/^(screenshots|faults)\//, "/api/guide/pictures/")}
        alt={alt}
        loading="lazy"
      />
    ),
  };
  return (
    <Plain remarkPlugins={[tables]} components={components}>
      {text}
    </Plain>
  );
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
