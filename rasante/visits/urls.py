"""Addresses of visits."""

from django.urls import path

from . import api, public

urlpatterns = [
    path("visits/", api.VisitsView.as_view()),
    path("visits/<int:pk>/", api.VisitView.as_view()),
    path("visits/<int:pk>/drop/", api.DropVisitView.as_view()),
    path("visits/<int:pk>/entries/", api.EntriesView.as_view()),
    path("visits/<int:pk>/steps/<slug:key>/", api.StepView.as_view()),
    path("visits/<int:pk>/photos/", api.PhotosView.as_view()),
    path("visits/<int:pk>/sign/", api.SignVisitView.as_view()),
    path("visits/<int:pk>/record/", api.RecordView.as_view()),
    path("visits/<int:pk>/sheet.pdf/", api.RecordSheetView.as_view()),
    path("visits/<int:pk>/record.json/", api.RecordFileView.as_view()),
    path("visits/<int:pk>/links/", api.LinksView.as_view()),
    path("visits/<int:pk>/mail/", api.MailView.as_view()),
    path("visit-photos/<int:pk>/", api.PhotoView.as_view()),
    path("visit-links/<int:pk>/withdraw/", api.WithdrawLinkView.as_view()),
    path("own-steps/", api.OwnStepsView.as_view()),
    path("sent-mail/", api.SentMailView.as_view()),
    path("tanks/<int:pk>/visit/", api.ProposedVisitView.as_view()),
]
#: Outside the API, for whoever was given a link.
public_patterns = [
    path("r/<str:token>/", public.record_by_link),
    path("r/<str:token>/sheet.pdf", public.sheet_by_link),
]
