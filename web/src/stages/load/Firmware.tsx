import { Button } from "antd";
import { useRef } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, sendFile, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { CallCard } from "../../parts/ledger/CallCard";

type FirmwareOut = Schemas["FirmwareOut"];

/** Firmware before a map that asks for it: fetched or brought, judged, written; the map that is in goes with it. */
export function Firmware({
  number,
  viewer,
  needed,
  busy,
  onWrite,
}: {
  number: string;
  viewer: boolean;
  /** Whether the board says that what is in is too old. */
  needed: boolean;
  busy: boolean;
  onWrite: () => void;
}) {
  const client = useQueryClient();
  const picked = useRef<HTMLInputElement>(null);
  const key = ["firmware", number];
  const path = { params: { path: { number } } };
  const found = useQuery({
    queryKey: key,
    queryFn: () => take(api.GET("/api/jobs/{number}/firmware", path)),
    retry: false,
  });
  const keep = (got: FirmwareOut) => client.setQueryData(key, got);
  const fetch = useAct<string, FirmwareOut>(
    (file) => take(api.POST("/api/jobs/{number}/firmware", { ...path, body: { file } })),
    keep,
  );
  const bring = useAct<File, FirmwareOut>(
    (file) => sendFile<FirmwareOut>(`/api/jobs/${number}/firmware`, file, () => undefined).done,
    keep,
  );
  if (!found.data) return null;
  const { answered, minimum, version, crc32, call, writable, offers } = found.data;
  return (
    <details className="sheet" open={needed || !!version}>
      <summary style={{ minHeight: 40 }}>
        <b>Firmware</b> <span className="num">{answered || "not answered"}</span> is in
        {minimum && (
          <>
            ; this map asks for <span className="num">{minimum}</span>
          </>
        )}
      </summary>
      <p className="soft" style={{ margin: "6px 0" }}>
        Firmware goes in before the map and takes the map that is in with it. Battery, cable and laptop as on
        the board; the same way back when it is cut.
      </p>
      {call && (
        <CallCard
          verdict={call.verdict}
          title={`${call.title}, CRC-32 ${crc32}`}
          because={call.because}
          next={call.do_next}
          source={call.source}
        />
      )}
      {!viewer && (
        <div className="row" style={{ marginTop: 8 }}>
          {offers.map((offer) => (
            <Button
              key={offer.file}
              size="large"
              loading={fetch.isPending}
              onClick={() => fetch.mutate(offer.file)}
            >
              Fetch {offer.title} of {offer.issued}
            </Button>
          ))}
          <Button size="large" loading={bring.isPending} onClick={() => picked.current?.click()}>
            Bring a firmware file
          </Button>
          <input
            ref={picked}
            type="file"
            hidden
            aria-label="Firmware file"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) bring.mutate(file);
              e.target.value = "";
            }}
          />
          {version && (
            <Button type="primary" size="large" disabled={!writable || busy} onClick={onWrite}>
              Write firmware {version}
            </Button>
          )}
        </div>
      )}
    </details>
  );
}
