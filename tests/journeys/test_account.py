"""A grower looks after their account: the phone's address, another password, its end."""

import pytest
from playwright.sync_api import expect

from server.accounts.models import Grower
from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def enter(page, how, password):
    page.get_by_label("Name").fill("Ada")
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name=how).click()


def test_an_account_is_looked_after_and_ended(page):
    page.goto(page.live)
    page.get_by_role("button", name="New here").click()
    enter(page, "Make the account", "wet gloves 7")
    expect(page.get_by_text("Nothing on the bench yet")).to_be_visible()
    page.goto(f"{page.live}/account")
    expect(page.get_by_text("make serve HOST=0.0.0.0")).to_be_visible()
    accessible(page)
    unclipped(page)
    page.get_by_label("The one you have").fill("wrong gloves")
    page.get_by_label("The one to come").fill("dry gloves 8")
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_text("That is not your present password.")).to_be_visible()
    page.get_by_label("The one you have").fill("wet gloves 7")
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.get_by_role("button", name="Sign out everywhere").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    enter(page, "Sign in", "dry gloves 8")
    expect(page.get_by_role("button", name="Delete this account…")).to_be_visible()
    page.get_by_role("button", name="Delete this account…").click()
    page.get_by_label("Your password", exact=True).fill("dry gloves 8")
    accessible(page)
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assert not Grower.objects.filter(name="Ada").exists()
