"""The API: one router a subject. The OpenAPI document is the contract."""

from ninja.security import django_auth

from verifyloop.api import (
    bench,
    bulk_plans,
    calendar,
    device_files,
    files,
    find,
    happened,
    instruments,
    jobs,
    kit,
    kit_setup,
    lists,
    methods,
    operations,
    people,
    period,
    plans,
    proposals,
    records,
    rigs,
    rounds,
    session,
    setup,
    sheets,
    site,
    today,
    tokens,
    ways_in,
)
from verifyloop.api.described import DescribedAPI
from verifyloop.api.parser import StrictParser
from verifyloop.api.problems import install

api = DescribedAPI(
    title="Verify Loop",
    version="1",
    auth=[tokens.TokenAuth(), django_auth],
    docs_url=None,
    urls_namespace="api",
    parser=StrictParser(),
)
install(api)
api.add_router("/session", session.router)
api.add_router("/", today.router)
api.add_router("/instruments", instruments.router)
api.add_router("/instruments", plans.router)
api.add_router("/instruments", proposals.router)
api.add_router("/instruments", happened.router)
api.add_router("/tokens", tokens.router)
api.add_router("/views", tokens.views)
api.add_router("/together", bulk_plans.router)
api.add_router("/methods", methods.router)
api.add_router("/jobs", jobs.router)
api.add_router("/jobs", device_files.router)
api.add_router("/kit", kit.router)
api.add_router("/kit", kit_setup.router)
api.add_router("/rigs", rigs.router)
api.add_router("/rounds", rounds.router)
api.add_router("/records/period", period.router)
api.add_router("/records", records.router)
api.add_router("/operations", operations.router)
api.add_router("/bench", bench.router)
api.add_router("/site", site.router)
api.add_router("/lists", lists.router)
api.add_router("/calendar", calendar.router)
api.add_router("/find", find.router)
api.add_router("/files", files.router)
api.add_router("/sheets", sheets.router)
api.add_router("/setup", setup.router)
api.add_router("/people", people.router)
api.add_router("/ways-in", ways_in.router)
