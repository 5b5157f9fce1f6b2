import { useEffect, useState } from "react";
import { useForm, type DefaultValues, type FieldValues, type Resolver, type UseFormReturn } from "react-hook-form";
import { keepItem, readLike } from "./kept.ts";

/** A form whose contents outlive a reload and a look at another screen, until `clear`. */
export function useKeptForm<T extends FieldValues>(
  key: string,
  empty: T,
  resolver?: Resolver<T>,
): UseFormReturn<T> & { readonly clear: () => void } {
  const [initial] = useState(() => readLike(key, empty));
  const form = useForm<T>({ defaultValues: initial as DefaultValues<T>, ...(resolver === undefined ? {} : { resolver }) });
  const { subscribe, reset } = form;
  useEffect(
    () => subscribe({ formState: { values: true }, callback: ({ values }) => void keepItem(key, JSON.stringify(values)) }),
    [subscribe, key],
  );
  return {
    ...form,
    clear: () => {
      reset(empty as DefaultValues<T>);
      localStorage.removeItem(key);
    },
  };
}
