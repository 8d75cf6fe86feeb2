/** The name that changes carry, given at the first opening and kept in this browser. */
const KEY = "tinbadge.person";

class Person {
  name = $state(localStorage.getItem(KEY) ?? "");

  set(name: string) {
    this.name = name.trim();
    localStorage.setItem(KEY, this.name);
  }
}

export const person = new Person();
