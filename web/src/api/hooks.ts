import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, ask, type Brief, type Mark, type Me } from "./client";
import { idle } from "./idle";
import type { Filters } from "./panels";

export const useMe = () =>
  useQuery({ queryKey: ["me"], queryFn: () => ask(api.GET("/api/me")), retry: false, staleTime: 60_000 });

export type Right = "compose" | "bring_in" | "shape" | "lay_out" | "targets" | "style" | "people" | "lead";

/** Whether who is signed in has a right: by their role, or given to them or their team besides. */
export const may = (me: Me | undefined, right: Right) => !!me?.rights?.includes(right);

export function useSchema() {
  const q = useQuery({
    queryKey: ["schema"],
    queryFn: () => ask(api.GET("/api/schema")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return q.data;
}

export const useReports = () => useQuery({ queryKey: ["reports"], queryFn: () => ask(api.GET("/api/reports")) });
export const useFolders = () => useQuery({ queryKey: ["folders"], queryFn: () => ask(api.GET("/api/folders")) });
export const useMeasures = () =>
  useQuery({ queryKey: ["measures"], queryFn: () => ask(api.GET("/api/targets")), staleTime: 60_000 });
export const useBoards = () => useQuery({ queryKey: ["boards"], queryFn: () => ask(api.GET("/api/boards")) });

/** The ready reports that ship with the application. */
export const useStarters = () =>
  useQuery({
    queryKey: ["starters"],
    queryFn: () => ask(api.GET("/api/starters")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The styles that charts can ask for, by name. */
export const useStyles = () =>
  useQuery({ queryKey: ["styles"], queryFn: () => ask(api.GET("/api/styles")), staleTime: 60_000 }).data ?? [];

export const useHouseStyle = () =>
  useQuery({ queryKey: ["style"], queryFn: () => ask(api.GET("/api/settings/style")), staleTime: 60_000 }).data;

/** The question for one report, alone or among several. */
export const reportQuery = (id: number) => ({
  queryKey: ["report", id] as const,
  retry: false,
  queryFn: () => ask(api.GET("/api/reports/{id}", { params: { path: { id } } })),
});

export const useReport = (id: number | undefined) =>
  useQuery({ ...reportQuery(id as number), enabled: id !== undefined });

/** Whom things can be shared with: the teams, then the people. */
export const useSubjects = () =>
  useQuery({ queryKey: ["subjects"], queryFn: () => ask(api.GET("/api/subjects")), staleTime: 60_000 }).data ?? [];

/** The answer to a brief. While a newer brief is being answered, the older answer stays. */
export const useAnswer = (brief: Brief | undefined, lines = 500) =>
  useQuery({
    queryKey: ["answer", brief, lines],
    enabled: brief !== undefined,
    queryFn: ({ signal }) => ask(api.POST("/api/answer", { body: { brief: brief as Brief, lines }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What a brief's conditions do and what could mislead in it; asked for when its answer is painted, so as not to hold that up. */
export const useExplained = (brief: Brief, answered: boolean) =>
  useQuery({
    queryKey: ["explain", brief],
    enabled: answered,
    queryFn: async ({ signal }) => {
      await new Promise<void>((done) => idle(done));
      signal.throwIfAborted();
      return ask(api.POST("/api/explain", { body: { brief }, signal }));
    },
    placeholderData: keepPreviousData,
    retry: false,
  });

export const fetchList = (
  brief: Brief,
  marks: Mark[] | undefined,
  from: number,
  count: number,
  signal?: AbortSignal,
  part = 0,
) =>
  marks
    ? ask(api.POST("/api/behind", { body: { brief, marks, from, count, part }, signal }))
    : ask(api.POST("/api/list", { body: { brief, from, count }, signal }));

/** A page of the records under groups, one group after the other. */
export const fetchGrouped = (brief: Brief, from: number, count: number, signal?: AbortSignal) =>
  ask(api.POST("/api/grouped", { body: { brief, from, count }, signal }));

/** What a dashboard's filters say, records by their names, and what a report makes of them. */
export const useFiltersSaid = (filters: Filters, brief?: Brief) =>
  useQuery({
    queryKey: ["filters", filters, brief],
    enabled: Object.keys(filters).length > 0 || brief !== undefined,
    queryFn: () => ask(api.POST("/api/filters", { body: { filters, ...(brief ? { brief } : {}) } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  }).data;

/** The report that values are chosen for, without the condition that they are for; nothing where they are of no report. */
export const Within = createContext<Brief | undefined>(undefined);

/** The values that a field has, with how many records each has: of the report that they are chosen for, where there is one. */
export const useValues = (start: string, path: string, search: string, enabled = true) => {
  const within = useContext(Within);
  const report = within && within.start === start && !within.parts && !path.startsWith("own.") ? within : undefined;
  return useQuery({
    queryKey: ["values", start, path, search, report],
    enabled,
    queryFn: () =>
      report
        ? ask(api.POST("/api/values/within", { body: { brief: report, path, search } }))
        : ask(api.GET("/api/values", { params: { query: { start, path, search } } })),
    // Those of the words before stand meanwhile, those of another field never.
    placeholderData: (before, of) => (of?.queryKey[1] === start && of.queryKey[2] === path ? before : undefined),
  });
};

/** Records of some types whose name has some words, as one types them; nothing for no words. */
export const useRecordsNamed = (types: string[], search: string) =>
  useQuery({
    queryKey: ["find-records", types, search.trim()],
    enabled: search.trim() !== "" && types.length > 0,
    queryFn: ({ signal }) =>
      ask(api.GET("/api/find-records", { params: { query: { type: types, search: search.trim() } }, signal })),
    placeholderData: keepPreviousData,
  });
