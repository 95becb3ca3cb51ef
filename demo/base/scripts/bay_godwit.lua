-- What is said when a boat comes into the bay.
function on_enter_godwit(boat, hour)
	if hour < 6 then
		say("log.bay_godwit.night")
	else
		say("log.bay_godwit.day")
	end
	if seen("black_tern") then
		give(boat, "rigger", 1)
	end
end
