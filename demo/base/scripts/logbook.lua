-- Pages are shown in the reverse order of this file.
page("first", "**Today** the sea was flat.")
page("second", "**Ice** was seen beyond the light.")
page("third", "**Nobody** was lost.")
say("log.page.001")
say("log.page.031")
say("log.page.061")
say("log.page.091")
say("log.page.121")
