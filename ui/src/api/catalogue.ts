/** What the server offers to choose from, fetched once. */
import { useQuery } from "@tanstack/react-query";
import { type Catalogue, client, told } from "./client";

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: () => told<Catalogue>(client.GET("/api/catalogue")),
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
}
