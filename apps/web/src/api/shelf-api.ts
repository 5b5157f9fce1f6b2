import {
  KNOWN_GOODS_PATH,
  knownGoodList,
  knownGoodMeta,
  knownGoodUsers,
  type KnownGoodList,
  type KnownGoodUser,
} from "@rheonom/contract/shelf";
import type { KnownGood } from "@rheonom/core/job";
import { api } from "./api.ts";

/** The shop's shelf of known-goods. */
export const shelfApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** Of one family of vehicles, or of all for ""; withdrawn ones too. */
    knownGoods: build.query<KnownGoodList, string>({
      query: (vehicle) => `${KNOWN_GOODS_PATH}${vehicle === "" ? "" : `?vehicle=${encodeURIComponent(vehicle)}`}`,
      responseSchema: knownGoodList,
      providesTags: ["shelf"],
    }),
    putKnownGood: build.mutation<KnownGood, KnownGood>({
      query: (body) => ({ url: KNOWN_GOODS_PATH, method: "POST", body }),
      responseSchema: knownGoodMeta,
      invalidatesTags: ["shelf"],
    }),
    withdrawKnownGood: build.mutation<KnownGood, { readonly id: string; readonly by: string; readonly why: string }>({
      query: ({ id, ...body }) => ({ url: `${KNOWN_GOODS_PATH}/${id}/withdraw`, method: "POST", body }),
      responseSchema: knownGoodMeta,
      invalidatesTags: ["shelf"],
    }),
    knownGoodUsers: build.query<{ readonly users: readonly KnownGoodUser[] }, string>({
      query: (id) => `${KNOWN_GOODS_PATH}/${id}/users`,
      responseSchema: knownGoodUsers,
      // A job may have used it a moment ago.
      keepUnusedDataFor: 0,
    }),
  }),
});

export const { useKnownGoodsQuery, usePutKnownGoodMutation, useWithdrawKnownGoodMutation, useKnownGoodUsersQuery } = shelfApi;
