import {
  dueList,
  oldCustomers,
  removedCustomers,
  SHOP_PATH,
  shopSettings,
  similarCases,
  type DueList,
  type OldCustomers,
  type RemovedCustomers,
  type ShopSettings,
  type SimilarCases,
} from "@rheonom/contract/shop";
import { api } from "./api.ts";

/** What the shop has beside its jobs: apart from what the first screen fetches. */
export const shopApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** Closed jobs that are like one. `key`: what of the job they depend on, so that they are asked for again when that changes. */
    similarCases: build.query<SimilarCases, { readonly id: string; readonly key: string }>({
      query: ({ id }) => `jobs/${id}/similar`,
      responseSchema: similarCases,
    }),
    shop: build.query<ShopSettings, undefined>({ query: () => SHOP_PATH, responseSchema: shopSettings, providesTags: ["shop"] }),
    keepShop: build.mutation<ShopSettings, ShopSettings>({
      query: (body) => ({ url: SHOP_PATH, method: "PUT", body }),
      responseSchema: shopSettings,
      invalidatesTags: ["shop"],
    }),
    oldCustomers: build.query<OldCustomers, undefined>({
      query: () => `${SHOP_PATH}/old-customers`,
      responseSchema: oldCustomers,
      providesTags: ["shop", "jobs"],
    }),
    removeCustomers: build.mutation<RemovedCustomers, { readonly by: string; readonly pictures: boolean }>({
      query: (body) => ({ url: `${SHOP_PATH}/old-customers/remove`, method: "POST", body }),
      responseSchema: removedCustomers,
      invalidatesTags: ["shop", "jobs"],
    }),
    due: build.query<DueList, string>({ query: (now) => `due?now=${now}`, responseSchema: dueList, providesTags: ["jobs"] }),
  }),
});

export const { useDueQuery, useKeepShopMutation, useOldCustomersQuery, useRemoveCustomersMutation, useShopQuery, useSimilarCasesQuery } =
  shopApi;
