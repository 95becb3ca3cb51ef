-- Loaded first; loads the others in this order.
load_script("omens")
load_script("logbook")
load_script("freeplay")
