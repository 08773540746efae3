/** Takes the last step of what is being edited back, and does it again. */
export const UndoRedo = ({
  edits,
}: {
  edits: { canUndo: boolean; canRedo: boolean; dispatch: (step: { do: "undo" } | { do: "redo" }) => void };
}) => (
  <>
    <button
      type="button"
      className="btn btn-quiet"
      disabled={!edits.canUndo}
      title="Ctrl+Z"
      onClick={() => edits.dispatch({ do: "undo" })}
    >
      Undo
    </button>
    <button
      type="button"
      className="btn btn-quiet"
      disabled={!edits.canRedo}
      title="Ctrl+Shift+Z"
      onClick={() => edits.dispatch({ do: "redo" })}
    >
      Redo
    </button>
  </>
);
