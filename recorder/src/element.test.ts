// @vitest-environment jsdom
import { beforeEach, expect, test } from "vitest";
import { everywhere, isSecret, meant, nameOf, roleOf, shortened, told } from "./element";

const at = (selector: string): HTMLElement => {
  const found = document.querySelector<HTMLElement>(selector);
  if (!found) throw new Error(`nothing is ${selector}`);
  return found;
};

beforeEach(() => {
  document.body.innerHTML = "";
});

test("what is pointed at is what a person would name: the button around an icon, the field of a label, through shadow roots", () => {
  document.body.innerHTML = `<button aria-label="Save"><svg><path id="icon" /></svg></button>
    <label><b id="said">Lot number</b> <input id="lot"></label>
    <p id="words">Only words</p><a href="/x"><div id="host"></div></a>`;
  expect(meant(at("#icon")).localName).toBe("button");
  expect(meant(at("#said"))).toBe(at("#lot"));
  expect(meant(at("#words"))).toBe(at("#words"));
  const root = at("#host").attachShadow({ mode: "open" });
  root.innerHTML = "<i>deep</i>";
  expect(meant(root.querySelector("i") ?? document.body).localName).toBe("a");
});

test("fields inside shadow roots are found, too", () => {
  document.body.innerHTML = `<input id="a"><div id="host"></div><input id="c">`;
  at("#host").attachShadow({ mode: "open" }).innerHTML = `<section><input id="b"></section>`;
  expect([...everywhere("input")].map((e) => e.id)).toEqual(["a", "b", "c"]);
});

test("a secret field stays one when its password is shown, and says nothing of what is in it", () => {
  document.body.innerHTML = `<input id="plain" value="x"><input id="hidden" type="password" value="hunter2">
    <input id="card" autocomplete="section-a billing cc-number" value="4000"><input id="code" autocomplete="one-time-code">
    <input id="name" autocomplete="cc" value="cc">`;
  expect(["plain", "hidden", "card", "code", "name"].filter((id) => isSecret(at(`#${id}`)))).toEqual([
    "hidden",
    "card",
    "code",
  ]);
  at("#hidden").setAttribute("type", "text");
  at("#card").removeAttribute("autocomplete");
  for (const id of ["hidden", "card"]) {
    expect(roleOf(at(`#${id}`))).toBe("password");
    const said = told(at(`#${id}`));
    expect(said.secret).toBe(true);
    expect(JSON.stringify(said)).not.toMatch(/hunter2|4000/);
  }
});

test("roles are those that sentences know", () => {
  const roles: [string, string][] = [
    [`<input type="search">`, "textbox"],
    [`<input type="number">`, "textbox"],
    [`<input type="datetime-local">`, "date"],
    [`<input type="file">`, "file"],
    [`<input type="color">`, "button"],
    [`<summary>More</summary>`, "button"],
    [`<canvas></canvas>`, "drawing"],
    [`<canvas role="img"></canvas>`, "img"],
    [`<img alt="A gate">`, "image"],
    [`<div role="menuitemcheckbox">Wrap</div>`, "menuitem"],
    [`<select size="4"><option>1</option></select>`, "combobox"],
    [`<div>Nothing</div>`, ""],
  ];
  for (const [html, role] of roles) {
    document.body.innerHTML = html;
    expect(roleOf(at("body > *")), html).toBe(role);
  }
});

test("names are those of an accessibility layer, tidied, and no longer than a sentence bears", () => {
  document.body.innerHTML = `<button>  Save
    and close </button><input placeholder="Lot number"><input id="both" aria-labelledby="a b"><b id="a">Best</b><b id="b">before</b>`;
  expect(nameOf(at("button"))).toBe("Save and close");
  expect(nameOf(at("input"))).toBe("Lot number");
  expect(nameOf(at("#both"))).toBe("Best before");
  const long = shortened(`${"Press this, ".repeat(12)}`);
  expect(long).toMatch(/^(Press this, )+Press …$|^(Press this, )+Press this …$/);
  expect(long.length).toBeLessThanOrEqual(82);
  expect(shortened("x".repeat(200))).toBe(`${"x".repeat(40)} …`);
});

test("what is on, in which dialog, and what leads to another page is told; what may send is no lead", () => {
  document.body.innerHTML = `<div role="dialog"><h2>Receive</h2><input type="checkbox" checked></div><button aria-pressed="true">B</button>
    <a id="out" href="https://elsewhere.example/list">List</a><a id="here" href="#part">Part</a>
    <a id="away" href="https://elsewhere.example/delete/7">Remove</a><a id="mail" href="mailto:a@b.example">Mail</a>
    <a id="file" href="https://elsewhere.example/f" download>File</a>`;
  for (const h of document.querySelectorAll<HTMLElement>("h2"))
    Object.defineProperty(h, "innerText", { value: "Receive" });
  expect(told(at("input"))).toMatchObject({ window: "Receive", on: true, role: "checkbox" });
  expect(told(at("button"))).toMatchObject({ on: true });
  expect(["out", "here", "away", "mail", "file"].filter((id) => told(at(`#${id}`)).leads)).toEqual(["out"]);
});
