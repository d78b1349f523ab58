import "@fontsource-variable/source-sans-3/wght.css";
import "bootstrap/dist/css/bootstrap.min.css";
import "./look/bustle.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { keyed } from "./api/keyed";
import { ShelfPage } from "./shelf/ShelfPage";
import { BenchPage } from "./shell/BenchPage";

const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, queryKeyHashFn: keyed } },
});

function Lost() {
  return (
    <main className="empty-page">
      <h1>There is nothing at this address</h1>
      <a href="/">To the shelf</a>
    </main>
  );
}

const router = createBrowserRouter([
  { path: "/", element: <ShelfPage /> },
  { path: "/walkers/:walkerId", element: <Navigate to="balance" replace /> },
  { path: "/walkers/:walkerId/:station", element: <BenchPage /> },
  { path: "*", element: <Lost /> },
]);

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
