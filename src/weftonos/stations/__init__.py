"""From records to answers: one module a station. Routers, scripts and exports call these and nothing below them."""
