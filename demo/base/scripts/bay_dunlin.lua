-- What is said when a boat comes into the bay.
function on_enter_dunlin(boat, hour)
	if hour < 6 then
		say("log.bay_dunlin.night")
	else
		say("log.bay_dunlin.day")
	end
	if seen("black_auk") then
		give(boat, "navigator", 3)
	end
end
