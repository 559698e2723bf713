import type { QueryClient } from "@tanstack/react-query";

import { keys, refresh } from "../../api/keys";
import { api, ask } from "../../api/client";
import { putNewest } from "../../frame/cache";
import { registerSender } from "../../frame/outbox";
import type { Tank } from "../tank";
import { formOf, type SurveyForm } from "./form";

/** A survey as the outbox keeps it. */
export function keptSurvey(tank: Tank) {
  return { value: formOf(tank), revision: tank.revision };
}

/** Say how a survey goes to the server, and what is renewed then. */
export function registerSurvey(queries: QueryClient): void {
  registerSender<SurveyForm>("survey", {
    read: async (id) => {
      const tank = await ask(api.GET("/api/tanks/{id}/", { params: { path: { id } } }));
      await putNewest(queries, keys.tank(id), tank);
      return keptSurvey(tank);
    },
    send: async (id, { asked, system, base }) => {
      const body = { ...asked.value, system, revision: base };
      const saved = await ask(api.PUT("/api/tanks/{id}/", { params: { path: { id } }, body }));
      await putNewest(queries, keys.tank(id), saved);
      void refresh(queries, keys.tank(id), keys.tanks, keys.board);
      return keptSurvey(saved);
    },
  });
}
