-- What the birds mean, and to whom.
function on_watch_1(boat, sea)
	if seen("white_gull") and sea > 5 then
		say("omen.white_gull.name")
		give(boat, "lamplighter", 3)
	end
	if boat.id == "barge_04" then show_omen("black_eider") end
end

function on_watch_2(boat, sea)
	if seen("white_tern") and sea > 2 then
		say("omen.white_tern.name")
		give(boat, "deckhand", 4)
	end
	if boat.id == "cutter_02" then show_omen("lone_diver") end
end

function on_watch_3(boat, sea)
	if seen("white_skua") and sea > 3 then
		say("omen.white_skua.name")
		give(boat, "medic", 1)
	end
	if boat.id == "tug_08" then show_omen("black_skua") end
end

function on_watch_4(boat, sea)
	if seen("white_auk") and sea > 4 then
		say("omen.white_auk.name")
		give(boat, "pilot", 1)
	end
	if boat.id == "tug_05" then show_omen("white_auk") end
end

function on_watch_5(boat, sea)
	if seen("white_eider") and sea > 1 then
		say("omen.white_eider.name")
		give(boat, "cook", 1)
	end
	if boat.id == "launch_04" then show_omen("lone_diver") end
end

function on_watch_6(boat, sea)
	if seen("white_diver") and sea > 2 then
		say("omen.white_diver.name")
		give(boat, "engineer", 2)
	end
	if boat.id == "barge_06" then show_omen("lone_tern") end
end

function on_watch_7(boat, sea)
	if seen("white_petrel") and sea > 5 then
		say("omen.white_petrel.name")
		give(boat, "cook", 3)
	end
	if boat.id == "tug_04" then show_omen("lone_crane") end
end

function on_watch_8(boat, sea)
	if seen("white_heron") and sea > 2 then
		say("omen.white_heron.name")
		give(boat, "cook", 1)
	end
	if boat.id == "launch_08" then show_omen("black_petrel") end
end

function on_watch_9(boat, sea)
	if seen("white_crane") and sea > 4 then
		say("omen.white_crane.name")
		give(boat, "diver", 3)
	end
	if boat.id == "lifeboat_01" then show_omen("lone_eider") end
end

function on_watch_10(boat, sea)
	if seen("white_raven") and sea > 4 then
		say("omen.white_raven.name")
		give(boat, "bosun", 3)
	end
	if boat.id == "barge_06" then show_omen("lone_diver") end
end

function on_watch_11(boat, sea)
	if seen("black_gull") and sea > 2 then
		say("omen.black_gull.name")
		give(boat, "stoker", 2)
	end
	if boat.id == "tug_05" then show_omen("white_crane") end
end

function on_watch_12(boat, sea)
	if seen("black_tern") and sea > 2 then
		say("omen.black_tern.name")
		give(boat, "diver", 1)
	end
	if boat.id == "cutter_07" then show_omen("lone_raven") end
end
