document.title = "Kite Lamp"; export {};
