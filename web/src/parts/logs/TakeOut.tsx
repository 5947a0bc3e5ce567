import { Button, Dropdown } from "antd";
import type { Schemas } from "../../api/client";

interface Props {
  log: Schemas["LogOut"];
  lanes: string[][];
  span: [number, number];
}

/** What leaves: the file as it came, the stretch in view as CSV, its lanes as a picture. */
export function TakeOut({ log, lanes, span: [start, stop] }: Props) {
  const base = `/api/logs/${log.id}`;
  const stretch = `start=${start}&stop=${stop}`;
  const flat = encodeURIComponent(lanes.flat().join(","));
  const drawn = encodeURIComponent(lanes.map((names) => names.join("+")).join(","));
  const items = [
    { key: "file", label: <a href={`${base}/file`}>The file as it came</a> },
    { key: "csv", label: <a href={`${base}/selection?channels=${flat}&${stretch}`}>What is in view, CSV</a> },
    {
      key: "svg",
      label: <a href={`${base}/picture?channels=${drawn}&${stretch}&form=svg`}>These lanes, SVG</a>,
    },
    {
      key: "png",
      label: <a href={`${base}/picture?channels=${drawn}&${stretch}&form=png`}>These lanes, PNG</a>,
    },
  ];
  return (
    <Dropdown menu={{ items }} trigger={["click"]}>
      <Button>Take out</Button>
    </Dropdown>
  );
}
