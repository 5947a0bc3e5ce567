import { App } from "antd";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { painted } from "./painted";

export type Sheet = Schemas["SheetOut"];
export type Table = Schemas["MapTable"];
type Edit = Partial<Schemas["SheetEditIn"]> & { target: string };

/** The sheet of a device's map: fetched once, and put anew by each edit's own answer. */
export function useSheet(number: string, part: string) {
  const client = useQueryClient();
  const { message } = App.useApp();
  const key = ["sheet", number, part];
  const path = { number, part };
  const sheet = useQuery({
    meta: { shown: true },
    queryKey: key,
    queryFn: () => take(api.GET("/api/jobs/{number}/sheets/{part}", { params: { path } })),
  });
  const put = (answer: Sheet) => {
    client.setQueryData(key, answer);
    if (answer.told) void message.info(answer.told, 7);
  };
  const refused = (error: ApiError) => {
    void message.error(error.message, 7);
    void client.invalidateQueries({ queryKey: key });
  };
  const edit = useMutation<Sheet, ApiError, Edit>({
    mutationFn: (body) =>
      take(
        api.POST("/api/jobs/{number}/sheets/{part}/edits", {
          params: { path },
          body: {
            operation: "set",
            top: 0,
            left: 0,
            bottom: 0,
            right: 0,
            why: "",
            row: {},
            over_measured: false,
            ...body,
            revision: client.getQueryData<Sheet>(key)?.revision ?? 0,
          },
        }),
      ),
    onMutate: (body) => {
      const shown = client.getQueryData<Sheet>(key);
      const atOnce = shown && painted(shown, body);
      if (atOnce) client.setQueryData(key, atOnce);
    },
    onSuccess: put,
    onError: refused,
    scope: { id: `sheet ${number} ${part}` },
  });
  const undo = useMutation<Sheet, ApiError, boolean>({
    mutationFn: (back) =>
      back
        ? take(api.POST("/api/jobs/{number}/sheets/{part}/undo", { params: { path } }))
        : take(api.POST("/api/jobs/{number}/sheets/{part}/redo", { params: { path } })),
    onSuccess: put,
    onError: refused,
    scope: { id: `sheet ${number} ${part}` },
  });
  return { sheet, edit, undo, put };
}
