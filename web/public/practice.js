// The practice page: the cold store's program as a small web application, for the recorder to be tried on.
const main = document.getElementById("main");
const places = document.getElementById("places");
const ask = document.getElementById("ask");
const rooms = [
  ["Room 3", "6.8 °C", "96 of 240 bins"],
  ["Room 4", "0.9 °C", "148 of 180 bins"],
  ["Room 6", "2.1 °C", "64 of 180 bins"],
];
let said = "";

function show(title, html, then) {
  document.title = `Lotroom: ${title}`;
  main.innerHTML = `<h1>${title}</h1>${html}`;
  for (const tab of places.children) tab.setAttribute("aria-selected", String(tab.textContent === title));
  then?.();
}

const on = (id, event, f) => document.getElementById(id).addEventListener(event, f);

function signIn() {
  document.title = "Sign in to Lotroom";
  main.innerHTML = `<h1>Good morning, dock 2</h1><form id="form">
    <label>E-mail <input type="email" autocomplete="username" required /></label>
    <label>Password <input type="password" autocomplete="current-password" required /></label>
    <button class="main">Sign in</button></form>`;
  on("form", "submit", (e) => {
    e.preventDefault();
    document.getElementById("who").textContent = "Ines Brackwater, dock 2";
    places.hidden = false;
    pages.Receiving();
  });
}

const pages = {
  Receiving() {
    show(
      "Receiving",
      `<p role="status">${said}</p><form id="form">
      <label>Bin card <input id="card" /></label>
      <label>Grower <select id="grower"><option></option><option>Halloran Orchards</option><option>Tregear Farm</option></select></label>
      <label>Bins <input id="bins" inputmode="numeric" /></label>
      <label>Picked on <input type="date" id="picked" /></label>
      <label>Room <select id="room">${rooms.map(([r]) => `<option>${r}</option>`).join("")}</select></label>
      <label class="tick"><input type="checkbox" id="organic" /> Organic</label>
      <button class="main">Receive lot</button> <button type="reset">Clear</button></form>`,
      () =>
        on("form", "submit", (e) => {
          e.preventDefault();
          const [bins, room] = ["bins", "room"].map((id) => document.getElementById(id).value);
          ask.innerHTML = `<p>Receive <b>${Number(bins) || 0} bins</b> into <b></b>?</p><button class="main" id="yes">Yes, receive</button> <button id="no">Not yet</button>`;
          ask.querySelectorAll("b")[1].textContent = room;
          ask.showModal();
          on("no", "click", () => ask.close());
          on("yes", "click", () => {
            ask.close();
            said = "The lot is booked.";
            pages.Receiving();
            said = "";
          });
        }),
    );
  },
  Rooms() {
    const rows = rooms.map(([r, t, f]) => `<tr tabindex="0"><td>${r}</td><td class="${r === "Room 3" ? "warm" : ""}">${t}</td><td>${f}</td></tr>`);
    show("Rooms", `<table><tr><th>Room</th><th>Now</th><th>Filled</th></tr>${rows.join("")}</table><button id="door">Door log</button>`, () => {
      main.querySelectorAll("tr[tabindex]").forEach((row) =>
        row.addEventListener("click", () => {
          main.querySelectorAll("tr").forEach((r) => r.setAttribute("aria-selected", String(r === row)));
        }),
      );
      on("door", "click", () => show("Door log", `<p>Room 3: open for 12 minutes.</p><button id="back">Back to the rooms</button>`, () => on("back", "click", pages.Rooms)));
    });
  },
  Alarms() {
    show(
      "Alarms",
      `<p><span class="warm">Room 3 is too warm.</span></p><label class="tick"><input type="checkbox" role="switch" id="siren" checked /> Siren</label>
      <label>Fan <input type="range" id="fan" min="0" max="100" value="20" /></label><label>Note <input id="note" /></label><button class="main" id="seen">I have seen it</button>`,
      () => on("seen", "click", () => (main.querySelector("p").textContent = "Seen. Go to the room and close the door.")),
    );
  },
};

for (const name of Object.keys(pages)) {
  const tab = document.createElement("button");
  tab.textContent = name;
  tab.setAttribute("role", "tab");
  tab.addEventListener("click", pages[name]);
  places.append(tab);
}
places.setAttribute("role", "tablist");
signIn();
