DROP TABLE kept_answers;
