-- Pages are shown in the reverse order of this file.
page("first", "**Today** the sea was flat.")
page("second", "**Ice** was seen beyond the light.")
page("third", "**Nobody** was lost.")
