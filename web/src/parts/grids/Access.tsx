import { Button, Input } from "antd";
import { useRef, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import type { GridProps } from "./gridProps";
import { held, type Item } from "./items";

interface Row {
  name: string;
  off: boolean;
  found: string;
}

/** The way in: each thing in its order, a picture before it comes off, and what its list did not say. */
export function Access({ grid, number, step, viewer, tap }: GridProps) {
  const { items } = grid.about as unknown as { items: Item[] };
  const rows = (grid.data.rows as Row[] | undefined) ?? [];
  const row = (name: string): Row => rows.find((one) => one.name === name) ?? { name, off: false, found: "" };
  const set = (name: string, change: Partial<Row>) =>
    tap((data) => {
      const had = (data.rows as Row[] | undefined) ?? [];
      return {
        ...data,
        rows: items.map((item) => {
          const was = had.find((one) => one.name === item.name) ?? { name: item.name, off: false, found: "" };
          return item.name === name ? { ...was, ...change } : was;
        }),
      };
    });
  const pictures = useQuery({
    queryKey: ["photos", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/photos", { params: { path: { number } } })),
  });
  const chooser = useRef<HTMLInputElement>(null);
  const [of, setOf] = useState("");
  const [wrong, setWrong] = useState("");
  const send = useAct((file: File) =>
    sendFile<Schemas["PhotoOut"]>(
      `/api/jobs/${number}/photos?step=${encodeURIComponent(step)}&name=${encodeURIComponent(`${of}.jpg`)}`,
      file,
      () => undefined,
    ).done.catch((error: ApiError) => {
      setWrong(error.message);
      throw error;
    }),
  );
  const seen = (name: string) =>
    pictures.data?.filter((photo) => photo.step === step && photo.name.startsWith(`${name}.`)) ?? [];
  return (
    <>
      <table className="plain grid">
        <thead>
          <tr>
            <th className="r">order</th>
            <th>what comes off</th>
            <th>found on the way</th>
            <th className="r" />
          </tr>
        </thead>
        <tbody>
          {items.map((item, place) => (
            <tr key={item.name}>
              <td className="r num">{place + 1}</td>
              <td>
                <b>{item.name}</b>
                <div className="soft">{held(item)}</div>
                {seen(item.name).map((photo) => (
                  <a key={photo.id} href={`/api/photos/${photo.id}/file`} target="_blank" rel="noreferrer">
                    <img className="small-thumb" src={`/api/photos/${photo.id}/thumbnail`} alt={photo.name} />
                  </a>
                ))}
              </td>
              <td>
                <Input
                  key={row(item.name).found}
                  disabled={viewer}
                  defaultValue={row(item.name).found}
                  placeholder="broken, other fastener"
                  aria-label={`${item.name}, found on the way`}
                  onBlur={(event) =>
                    event.target.value !== row(item.name).found &&
                    set(item.name, { found: event.target.value })
                  }
                />
              </td>
              <td className="r" style={{ whiteSpace: "nowrap" }}>
                {!viewer && (
                  <Button
                    size="large"
                    loading={send.isPending && of === item.name}
                    aria-label={`Picture of ${item.name}`}
                    onClick={() => (setOf(item.name), setWrong(""), chooser.current?.click())}
                  >
                    Picture
                  </Button>
                )}{" "}
                <Button
                  size="large"
                  disabled={viewer}
                  type={row(item.name).off ? "primary" : "default"}
                  aria-pressed={row(item.name).off}
                  aria-label={`${item.name} is off`}
                  onClick={() => set(item.name, { off: !row(item.name).off })}
                >
                  Off
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <input
        ref={chooser}
        hidden
        type="file"
        accept="image/*"
        capture="environment"
        aria-label="Picture of a part"
        onChange={(event) => {
          for (const file of event.target.files ?? []) send.mutate(file);
          event.target.value = "";
        }}
      />
      {wrong && (
        <p style={{ color: "var(--oxide)" }} role="alert">
          {wrong}
        </p>
      )}
    </>
  );
}
