-- What wrk sends: load.lua KIND PATH FIRST. A new vessel each time; the two unique values of a free one, as a
-- live check sends them; a vessel that is taken; one that a rule refuses. Numbers begin at FIRST, which no
-- other run uses.
local kind, path, number
local digits = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"

local function callSign(n)
  local text = ""
  for _ = 1, 6 do
    local digit = n % 32
    text = digits:sub(digit + 1, digit + 1) .. text
    n = math.floor(n / 32)
  end
  return "M1" .. text
end

function init(args)
  kind, path, number = args[1], args[2], tonumber(args[3])
  wrk.method = "POST"
  wrk.headers["Content-Type"] = "application/json"
end

function request()
  local n = number
  if kind ~= "taken" then
    number = number + 1
  end
  if kind == "check" then
    return wrk.format(nil, path, nil,
      string.format('{"callSign":"%s","officialNumber":"%010d"}', callSign(n):lower(), n))
  end
  local crew = kind == "invalid" and 41 or 5
  return wrk.format(nil, path, nil, string.format(
    '{"name":"Grey  Heron %d","callSign":"%s","officialNumber":"%010d","rig":"motor","length":18.25,'
    .. '"draught":"2.10","crew":%d,"built":"1987-05-14","insured":true,'
    .. '"notes":"Lies at the inner wall while her engine is being mended."}',
    n, callSign(n):lower(), n, crew))
end
