import { Button, Input, Modal, Popconfirm } from "antd";
import { useRef, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";

type Photo = Schemas["PhotoOut"];

/** Pictures of a step: taken or dropped, kept as they came, marked with pin numbers. */
export function Photos({ number, step, viewer }: { number: string; step: string; viewer: boolean }) {
  const [open, setOpen] = useState<Photo | null>(null);
  const [wrong, setWrong] = useState("");
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const photos = useQuery({
    queryKey: ["photos", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/photos", { params: { path: { number } } })),
  });
  const send = useAct((file: File) =>
    sendFile<Photo>(
      `/api/jobs/${number}/photos?step=${encodeURIComponent(step)}&name=${encodeURIComponent(file.name)}`,
      file,
      () => undefined,
    ).done.catch((error: ApiError) => {
      setWrong(error.message);
      throw error;
    }),
  );
  const mine = photos.data?.filter((photo) => photo.step === step) ?? [];
  const take_ = (files: FileList | null) => {
    setWrong("");
    for (const file of files ?? []) send.mutate(file);
  };
  return (
    <div
      className={`photos ${over ? "over" : ""}`}
      onDragOver={(e) => (e.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => (e.preventDefault(), setOver(false), take_(e.dataTransfer.files))}
    >
      {mine.map((photo) => (
        <button
          key={photo.id}
          className="thumb"
          onClick={() => setOpen(photo)}
          aria-label={`Photo ${photo.name}, ${photo.marks.length} marks`}
        >
          <img src={`/api/photos/${photo.id}/thumbnail`} alt={photo.name} />
          {photo.marks.map((mark, n) => (
            <i key={n} style={{ left: `${100 * mark.x}%`, top: `${100 * mark.y}%` }}>
              {mark.label}
            </i>
          ))}
        </button>
      ))}
      {!viewer && (
        <div>
          <Button size="large" loading={send.isPending} onClick={() => chooser.current?.click()}>
            {mine.length ? "Another picture" : "Take or choose a picture"}
          </Button>
          <div className="soft" style={{ fontSize: 14, marginTop: 4 }}>
            or drop it here; JPEG, PNG or WebP
          </div>
        </div>
      )}
      {!mine.length && viewer && <span className="soft">No picture yet.</span>}
      <input
        ref={chooser}
        hidden
        type="file"
        accept="image/*"
        capture="environment"
        multiple
        aria-label="Picture"
        onChange={(e) => (take_(e.target.files), (e.target.value = ""))}
      />
      {wrong && (
        <p style={{ color: "var(--oxide)", width: "100%" }} role="alert">
          {wrong}
        </p>
      )}
      {open && (
        <Marked
          photo={mine.find((photo) => photo.id === open.id) ?? open}
          viewer={viewer}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}

/** A picture in full: tap to set a pin number on it. */
function Marked({ photo, viewer, onClose }: { photo: Photo; viewer: boolean; onClose: () => void }) {
  const [label, setLabel] = useState("");
  const role = useSession().data?.role;
  const mark = useAct((marks: Schemas["Mark"][]) =>
    take(
      api.PUT("/api/photos/{photo_id}/marks", { params: { path: { photo_id: photo.id } }, body: { marks } }),
    ),
  );
  const aside = useAct(
    (destroy: boolean) =>
      take(
        api.DELETE("/api/photos/{photo_id}", {
          params: { path: { photo_id: photo.id }, query: { destroy } },
        }),
      ),
    onClose,
  );
  const put = (event: React.MouseEvent<HTMLElement>) => {
    if (viewer || !label.trim()) return;
    const box = event.currentTarget.getBoundingClientRect();
    mark.mutate([
      ...photo.marks,
      {
        x: (event.clientX - box.left) / box.width,
        y: (event.clientY - box.top) / box.height,
        label: label.trim(),
      },
    ]);
    setLabel("");
  };
  return (
    <Modal open onCancel={onClose} footer={null} width={760} title={photo.name}>
      {!viewer && (
        <div className="row" style={{ marginBottom: 8 }}>
          <Input
            value={label}
            onChange={(e) => setLabel(e.target.value)}
            placeholder="pin number"
            aria-label="Pin number"
            style={{ width: 150 }}
            className="num"
          />
          <span className="soft">
            {label.trim() ? "Now tap the place on the picture." : "Type a pin number, then tap its place."}
          </span>
          {photo.marks.length > 0 && (
            <Button onClick={() => mark.mutate(photo.marks.slice(0, -1))}>Take the last mark off</Button>
          )}
          <Button onClick={() => aside.mutate(false)}>Set aside</Button>
          {role === "lead" && (
            <Popconfirm
              title="Delete this picture and its file for good? The ledger keeps that it was there."
              okText="Delete it"
              cancelText="No"
              onConfirm={() => aside.mutate(true)}
            >
              <Button danger>Delete</Button>
            </Popconfirm>
          )}
        </div>
      )}
      <button className="thumb whole" onClick={put} aria-label="Picture to mark">
        <img src={`/api/photos/${photo.id}/file`} alt={photo.name} />
        {photo.marks.map((m, n) => (
          <i key={n} style={{ left: `${100 * m.x}%`, top: `${100 * m.y}%` }}>
            {m.label}
          </i>
        ))}
      </button>
      <p className="soft num" style={{ marginTop: 6, fontSize: 13, whiteSpace: "normal" }}>
        {photo.width} × {photo.height} · {(photo.size / 1e6).toFixed(1)} MB · SHA-256{" "}
        {photo.sha256.slice(0, 16)} · {photo.who}
      </p>
    </Modal>
  );
}
