import { Switch } from "@/controls/Switch";
import "./shelf.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, fetched, type Schemas, told } from "@/api/client";
import Button from "@/controls/Button";
import { FileButton } from "@/controls/FileButton";
import { Card } from "./Card";
import { NewWalker } from "./NewWalker";

/** Home: the walkers as small live drawings with their state. */
export function ShelfPage() {
  const [archived, setArchived] = useState(false);
  const [making, setMaking] = useState(false);
  const [sought, setSought] = useState("");
  const [read, setRead] = useState<Schemas["ReadUrdf"] | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const shelf = useQuery({
    queryKey: ["shelf", archived],
    queryFn: () => told<Schemas["Shelf"]>(client.GET("/api/walkers", { params: { query: { archived } } })),
  });
  const bring = useMutation({
    mutationFn: async (chosen: File): Promise<{ id: number } | Schemas["ReadUrdf"]> => {
      const urdf = /\.(urdf|xml)$/i.test(chosen.name);
      const options = { method: "POST", headers: { "Content-Type": "application/octet-stream" }, body: chosen };
      return (await fetched(urdf ? "/api/urdf" : "/api/files", options)).json();
    },
    onSuccess: async (walker) => {
      await queries.invalidateQueries({ queryKey: ["shelf"] });
      const urdf = "unused" in walker;
      if (urdf && walker.unused.length + walker.called.length) setRead(walker);
      else navigate(`/walkers/${walker.id}/${urdf ? "frame" : "balance"}`);
    },
  });
  const all = shelf.data?.walkers ?? [];
  const asked = sought.trim().toLowerCase();
  const walkers = all.filter(
    (w) => !asked || `${w.name} ${w.note} ${w.motions.join(" ")}`.toLowerCase().includes(asked),
  );
  const names = all.map((w) => w.name);
  return (
    <div className="shelf-page">
      <header className="shelf-bar">
        <h1>Bustle</h1>
        <p>Walkers on the shelf</p>
        <div className="top-right">
          <input
            type="search"
            className="form-control form-control-sm"
            aria-label="Find a walker"
            placeholder="Find a walker"
            value={sought}
            onChange={(event) => setSought(event.target.value)}
          />
          <Switch label="Put away" value={archived} onValue={(on) => setArchived(on)} />
          <FileButton
            label="Project file"
            accept=".json,.urdf,.xml"
            className="btn btn-outline-dark btn-sm"
            onFile={(chosen) => bring.mutate(chosen)}
          >
            Bring in a file
          </FileButton>
          <Button variant="dark" size="sm" onClick={() => setMaking(true)}>
            New walker
          </Button>
        </div>
      </header>
      <main>
        {bring.error && (
          <p className="page-fault" role="alert">
            That file was not taken. {bring.error.message}
          </p>
        )}
        {read && (
          <div className="page-note" role="status">
            <p>The URDF became a walker.{read.unused.length > 0 && " What of the file was not used:"}</p>
            <Lines of={read.unused} />
            {read.called.length > 0 && <p>Joints with other names on the screen; tables and files keep these:</p>}
            <Lines of={read.called} />
            <Button variant="dark" size="sm" onClick={() => navigate(`/walkers/${read.id}/frame`)}>
              Open it
            </Button>
          </div>
        )}
        {shelf.error && (
          <p className="page-fault" role="alert">
            {shelf.error.message}{" "}
            <button type="button" className="link-button" onClick={() => void shelf.refetch()}>
              Try again
            </button>
          </p>
        )}
        {shelf.isLoading && <p className="hint">Fetching the shelf …</p>}
        {all.length > 0 && walkers.length === 0 && <p className="hint">No walker here is called that.</p>}
        {shelf.data && all.length === 0 && (
          <div className="empty">
            <p>{archived ? "Nothing has been put away." : "The shelf is empty."}</p>
            {!archived && (
              <Button variant="dark" onClick={() => setMaking(true)}>
                Start a walker
              </Button>
            )}
          </div>
        )}
        <ul className="shelf">
          {walkers.map((walker) => (
            <Card key={walker.id} walker={walker} namesake={names.filter((n) => n === walker.name).length > 1} />
          ))}
        </ul>
      </main>
      {making && <NewWalker onHide={() => setMaking(false)} />}
    </div>
  );
}

function Lines({ of }: { of: string[] }) {
  return of.length ? (
    <ul>
      {of.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  ) : null;
}
