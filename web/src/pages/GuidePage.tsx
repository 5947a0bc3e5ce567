import { Alert, Input } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, take } from "../api/client";
import { Markdown } from "../parts/frame/Markdown";

const WORDS = "words";

/** The guide: a chapter a stage, searched as one, with the words of the trade explained where they stand. */
export default function GuidePage() {
  const { chapter = "start" } = useParams();
  const [find, setFind] = useState("");
  const guide = useQuery({
    meta: { shown: true },
    queryKey: ["guide"],
    staleTime: Infinity,
    queryFn: () => take(api.GET("/api/guide")),
  });
  const words = useMemo(
    () => new Map((guide.data?.words ?? []).map((word) => [word.word.toLowerCase(), word.meaning])),
    [guide.data],
  );
  const shown = guide.data?.chapters.find((one) => one.key === chapter);
  const title = chapter === WORDS ? "Words of the trade" : (shown?.title ?? "Guide");
  useEffect(() => {
    document.title = `${title} · Guide · Vent Map`;
    setFind("");
  }, [title]);
  const wanted = find.trim().toLowerCase();
  const hits = wanted
    ? (guide.data?.chapters ?? []).flatMap((one) =>
        one.text
          .split(/\n{2,}/)
          .filter((block) => block.toLowerCase().includes(wanted))
          .map((block) => ({ ...one, block })),
      )
    : [];
  return (
    <main className="floor sums" id="work">
      <nav className="side" aria-label="Guide">
        <span className="head">Guide</span>
        {guide.data?.chapters.map((one) => (
          <Link key={one.key} to={`/guide/${one.key}`} className={one.key === chapter ? "active" : ""}>
            {one.key === "start" ? "Start here" : one.title}
          </Link>
        ))}
        <Link to={`/guide/${WORDS}`} className={chapter === WORDS ? "active" : ""}>
          Words of the trade
        </Link>
      </nav>
      <div>
        <div className="title">
          <h1>{title}</h1>
          <div className="end">
            <Input
              aria-label="Find in the guide"
              placeholder="find in the guide"
              style={{ width: 240 }}
              value={find}
              onChange={(event) => setFind(event.target.value)}
            />
          </div>
        </div>
        {guide.error && <Alert type="error" title={guide.error.message} />}
        <div className="sheet guide">
          {wanted ? (
            <>
              {hits.length === 0 && <p>Nothing in the guide says “{find.trim()}”. Try a shorter word.</p>}
              {hits.map((hit, index) => (
                <section key={index}>
                  <Link to={`/guide/${hit.key}`}>{hit.title}</Link>
                  <Markdown text={hit.block} words={words} />
                </section>
              ))}
            </>
          ) : chapter === WORDS ? (
            <dl>
              {guide.data?.words.map((word) => (
                <div key={word.word} id={word.word}>
                  <dt>{word.word}</dt>
                  <dd>{word.meaning}</dd>
                </div>
              ))}
            </dl>
          ) : (
            shown && <Markdown text={shown.text} words={words} />
          )}
        </div>
      </div>
    </main>
  );
}
