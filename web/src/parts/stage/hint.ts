/** What can be done with the tool that is chosen. */
export function hint(tool: string | undefined, copies: boolean): string {
  switch (tool) {
    case undefined:
    case "":
      return `Choose from the pad, or click a mark.${copies ? " Copy puts the finished picture on the clipboard." : ""}`;
    case "crop":
      return "Drag over what is to stay. Or drag the corners; Enter crops.";
    case "marker":
      return "Click where it belongs.";
    case "note":
      return "Press on what it is about, and drag to where the words go.";
    case "detail":
      return "Drag over the part to show enlarged.";
    case "pen":
      return "Draw. Shift draws straight.";
    case "light":
      return "Drag over what matters; the rest is dimmed.";
    case "concealment":
      return "Drag over what nobody may see. It is gone from every finished picture.";
    case "fold":
      return "Drag over the band to fold away.";
    case "cutout":
      return "Draw around what is to stay.";
    default:
      return "Drag on the picture. Shift steadies, Alt frees from snapping.";
  }
}
