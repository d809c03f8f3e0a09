// Where changes stay that the server has not got yet: in this browser's own database, so that a closed tab loses nothing.
// One shelf, each entry with its number in the order in which it came.
(() => {
  const NAME = "rowan";
  const SHELF = "unsent";
  let opening = null;
  function open() {
    opening ??= new Promise((resolve, reject) => {
      const asked = indexedDB.open(NAME, 1);
      asked.onupgradeneeded = () => asked.result.createObjectStore(SHELF, { keyPath: "id", autoIncrement: true });
      asked.onsuccess = () => resolve(asked.result);
      asked.onerror = () => reject(asked.error);
    });
    return opening;
  }
  async function act(mode, ask) {
    const shelf = (await open()).transaction(SHELF, mode, { durability: "strict" }).objectStore(SHELF);
    return new Promise((resolve, reject) => {
      const asked = ask(shelf);
      asked.onsuccess = () => resolve(asked.result);
      asked.onerror = () => reject(asked.error);
    });
  }
  window.Rowan.unsent = {
    all: () => act("readonly", (shelf) => shelf.getAll()),
    add: (entry) => act("readwrite", (shelf) => shelf.add(entry)),
    put: (entry) => act("readwrite", (shelf) => shelf.put(entry)),
    take: (id) => act("readwrite", (shelf) => shelf.delete(id)),
  };
})();
